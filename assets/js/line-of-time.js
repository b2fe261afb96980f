// The song as a line of time: its ruler, what plays, and the tools for what moves.

import { onFrame } from './frames.js';
import { change } from './changes.js';
import { SEGMENT } from './audio/pieces.js';
import { player } from './audio/player.js';
import { goTo, onPage, page, songTime } from './page.js';
import { loopStart } from './loop-range.js';
import { setCursor } from './song-cursor.js';
import { songPlace } from './transport.js';
import { setTool } from './elements/moves.js';
import { valueAt } from './curve.js';
import { write } from './write.js';
import { framesAt } from './time.js';

let tool = 'points';
/** Room of the names beside the lanes, and of the widest drawing that a browser takes, in pixels. */
const HEADS = 172;
const MOST_WIDTH = 15_000;
let laid = false;

function rows() {
    return document.getElementById('time-rows');
}

function chosen() {
    return document.querySelector('pestle-moves[data-chosen]');
}

/** Columns as wide as their sections last, the ruler, and which tool is taken. */
function lay() {
    if (!rows()) {
        return;
    }
    zoom();
    for (const row of rows().querySelectorAll('[data-parts]')) {
        row.style.gridTemplateColumns = JSON.parse(row.dataset.parts).map((ticks) => `minmax(0, ${ticks}fr)`).join(' ');
    }
    take(tool);
    rule();
    // As long as all that is there, not only what is in sight.
    for (const line of rows().querySelectorAll('.time-line, .time-cursor, .time-marker')) {
        line.style.height = '0';
    }
    const tall = rows().scrollHeight - 20;
    for (const line of rows().querySelectorAll('.time-line, .time-cursor, .time-marker')) {
        line.style.height = `${tall}px`;
    }
    document.dispatchEvent(new Event('pestle:laid'));
    // What is worked on is in sight, however many lanes there are.
    (chosen() ?? document.querySelector('.clip[aria-current]')?.closest('pestle-track'))?.scrollIntoView({ block: 'nearest' });
}

/** So many bars fill the width; the place that was in the middle stays there. */
function zoom() {
    const bars = Number(document.getElementById('time-zoom')?.value ?? 0);
    const grid = rows();
    const seen = grid.clientWidth - HEADS;
    const middle = (grid.scrollLeft + seen / 2) / Math.max(1, grid.scrollWidth - HEADS);
    const width = bars ? Math.min(MOST_WIDTH, seen * JSON.parse(grid.dataset.bars).length / bars) : 0;
    grid.style.gridTemplateColumns = width ? `158px ${Math.round(width)}px` : '';
    if (width && !laid) {
        grid.scrollLeft = middle * width - seen / 2;
    }
    laid = true;
}

function rule() {
    const canvas = document.getElementById('time-ruler');
    if (!canvas || canvas.clientWidth === 0) {
        return;
    }
    const [ticks, bars] = [Number(rows().dataset.ticks), JSON.parse(rows().dataset.bars)];
    canvas.width = canvas.clientWidth * devicePixelRatio;
    canvas.height = canvas.clientHeight * devicePixelRatio;
    const pen = canvas.getContext('2d');
    pen.scale(devicePixelRatio, devicePixelRatio);
    pen.font = '12px JetBrains';
    pen.fillStyle = getComputedStyle(canvas).color;
    // As many numbers as have room, a power of two apart.
    const every = 2 ** Math.max(0, Math.ceil(Math.log2(34 * bars.length / canvas.clientWidth)));
    bars.forEach((tick, i) => {
        if (i % every === 0) {
            const x = tick / ticks * canvas.clientWidth;
            pen.fillRect(x, 12, 1, 6);
            pen.fillText(String(i + 1), x + 3, 12);
        }
    });
}

/** The segment of the song at a tick: entries say where they begin, and within one it is counted. */
function segmentAt(tick) {
    const { song } = page();
    const at = (ticks) => Math.round(framesAt(ticks, songTime()));
    let from = 0;
    for (const { ticks, repeats, segment } of song) {
        if (ticks > 0 && tick < from + repeats * ticks) {
            let first = segment;
            while (tick >= from + ticks) {
                first += Math.ceil((at(from + ticks) - at(from)) / SEGMENT);
                from += ticks;
            }

            return first + Math.floor((at(tick) - at(from)) / SEGMENT);
        }
        from += repeats * ticks;
    }

    return 0;
}

/** Plays the song from a tick on; what it comes in with is asked for when its sound is there. */
export function playFrom(tick, comeIn = null) {
    return player.playSong(segmentAt(tick), comeIn);
}

/** Gives a parameter a lane over the song, and shows it; what moves already is shown. */
async function letMove(path, value, moves) {
    const lane = moves ? [...document.querySelectorAll('pestle-moves')].map((m) => JSON.parse(m.dataset.lane)).find((m) => m.path === path)?.id : null;
    if (moves || await change({ type: 'set-movement', path, points: [[0, value]] })) {
        const url = new URL(location.href);
        url.searchParams.set('moves', lane ?? `song//${path}`);
        url.searchParams.delete('clip');
        url.searchParams.delete('marker');
        await goTo(url.pathname + url.search);
    }
}

function take(name) {
    tool = name;
    setTool(name);
    for (const button of document.querySelectorAll('[data-draw]')) {
        button.setAttribute('aria-pressed', String(button.dataset.draw === name));
    }
}

/** Bar, beat and step of a tick, and back; bars of the beat's meter. */
export function told(tick) {
    const { bar, click } = page();
    const at = Math.round(tick);

    return `${Math.floor(at / bar) + 1}.${Math.floor(at % bar / click) + 1}.${Number((at % bar % click / 240 + 1).toFixed(2))}`;
}

export function tickOf(text) {
    const { bar, click } = page();
    const [bars, beats = 1, steps = 1] = text.split('.', 2).concat(text.split('.').slice(2).join('.') || 1).map(Number);
    const tick = (bars - 1) * bar + (beats - 1) * click + (steps - 1) * 240;

    return Number.isFinite(tick) && tick >= 0 ? tick : null;
}

/** The fields of the chosen points. */
document.addEventListener('pestle:points', ({ detail: moves }) => {
    const [value, at, bend] = ['value', 'at', 'bend'].map((name) => document.querySelector(`[data-point-${name}]`));
    if (!value) {
        return;
    }
    const numbers = moves.chosen;
    const [first] = numbers.map((i) => moves.points[i]);
    value.disabled = bend.disabled = numbers.length === 0;
    at.disabled = numbers.length !== 1;
    value.value = first ? Number(first[1].toFixed(moves.lane.places + 1)) : '';
    at.value = first && numbers.length === 1 ? told(first[0]) : '';
    bend.value = first ? [0, 0.35, -0.35, 1].reduce((best, b) => (Math.abs(b - first[2]) < Math.abs(best - first[2]) ? b : best)) : '0';
});

document.addEventListener('dblclick', (event) => {
    const section = event.target.closest?.('[data-time-from]');
    if (section) {
        playFrom(Number(section.dataset.timeFrom));
    }
});

document.addEventListener('change', ({ target }) => {
    if (target.id === 'time-zoom') {
        laid = false;
        lay();
    }
    const { pointValue, pointAt, pointBend, shape, carry } = target.dataset ?? {};
    const lane = chosen()?.lane;
    if (pointValue !== undefined && target.value !== '') {
        chosen().set(1, Math.max(lane.bounds[0], Math.min(lane.bounds[1], Number(target.value))));
    } else if (pointAt !== undefined && tickOf(target.value) !== null) {
        chosen().set(0, tickOf(target.value));
    } else if (pointBend !== undefined) {
        chosen().set(2, Number(target.value));
    } else if (shape !== undefined && target.value) {
        const { path, scope, of, least, most, spans } = lane;
        const points = chosen().chosen.map((i) => chosen().points[i][0]);
        const [from, to] = points.length > 1 ? [points[0], points.at(-1)] : [0, spans[0]?.[1] ?? 3840];
        change({ type: 'shape-movement', path, scope, of, shape: target.value, from, to, low: least, high: most, every: Number(document.querySelector('[data-snap=time]').value) || 960, seed: page().head });
        target.value = '';
    } else if (carry !== undefined && target.value) {
        const fields = JSON.parse(target.value);
        change(fields).then((done) => done && goTo(`/beats/${page().beat}/arrange?view=song&moves=${encodeURIComponent(`${fields.toScope}/${fields.toOf}/${fields.toPath}`)}`));
    }
});

document.addEventListener('click', (event) => {
    const ruler = event.target.closest('.time-ruler');
    if (ruler) {
        const box = ruler.getBoundingClientRect();
        const tick = (event.clientX - box.left) / box.width * Number(rows().dataset.ticks);
        const bar = JSON.parse(rows().dataset.bars).findLast((start) => start <= tick) ?? 0;
        setCursor(bar);
        if (!event.shiftKey) {
            playFrom(bar);
        }
    }
    const mover = event.target.closest('[data-let-move]');
    if (mover) {
        letMove(mover.dataset.letMove, Number(mover.dataset.value), mover.dataset.moves !== undefined);
    }
    const button = event.target.closest('[data-draw]');
    if (button) {
        take(button.dataset.draw);
        chosen()?.focus();
    }
});

/** The line at what plays, and what each movement is there. */
function frame() {
    const line = document.getElementById('time-line');
    if (!line || !page()) {
        return;
    }
    const round = player.playing && player.what === 'loop' ? loopStart(player.loop?.section) : null;
    const tick = player.playing && player.what === 'song' ? songPlace().ticks : round === null ? null : round + player.ticks();
    line.hidden = tick === null;
    if (tick === null) {
        return;
    }
    const lanes = rows().querySelector('.time-ruler');
    const x = tick / Number(rows().dataset.ticks) * lanes.clientWidth;
    const seen = rows().clientWidth - HEADS;
    // What plays stays in sight.
    if (lanes.clientWidth > seen && (x < rows().scrollLeft || x > rows().scrollLeft + seen)) {
        rows().scrollLeft = x - 0.1 * seen;
    }
    line.style.transform = `translateX(${lanes.offsetLeft + x}px)`;
    for (const moves of rows().querySelectorAll('pestle-moves')) {
        const { spans, places, unit } = moves.lane ?? { spans: [] };
        const span = spans.find(([from, ticks]) => tick >= from && tick < from + ticks);
        write(moves.previousElementSibling.querySelector('[data-now]'), span ? `${valueAt(moves.points, tick - span[0]).toFixed(places)} ${unit}` : '');
    }
}
onFrame(frame);
addEventListener('resize', rule);
document.addEventListener('pestle:theme', rule);
onPage(lay);
