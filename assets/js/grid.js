// Correcting a recording's beat grid: each step is made by PHP and can be taken back, all of a visit's at once too.

import { correct, say } from './library.js';
import { onPage } from './page.js';
import { notice } from './notice.js';

/** Grids before each step of this visit, by sample; null for as it was heard. */
const steps = new Map();
const FORGET_TAPS_MS = 2500;
let taps = [];

function wave() {
    return document.querySelector('pestle-wave[data-mode=grid]');
}

function sample() {
    return wave()?.dataset.sample;
}

function seconds(frame) {
    return frame / Number(wave().dataset.rate);
}

async function step(fields, words = null) {
    const hash = sample();
    const answer = await correct(`${hash}/grid`, fields);
    if (answer) {
        steps.set(hash, [...(steps.get(hash) ?? []), answer.before.grid]);
        document.dispatchEvent(new CustomEvent('pestle:corrected', { detail: { sample: hash, label: words ?? 'Beat grid', before: answer.before } }));
        tell();
    }
    if (answer && words) {
        notice(words);
    }
}

/** Back by a step, or to what was there before the first one. */
async function back(all) {
    const made = steps.get(sample()) ?? [];
    const grid = all ? made[0] : made.at(-1);
    steps.set(sample(), all ? [] : made.slice(0, -1));
    const answer = await correct(sample(), { grid });
    if (answer) {
        document.dispatchEvent(new CustomEvent('pestle:corrected', { detail: { sample: sample(), label: 'Grid as it was', before: answer.before } }));
    }
    notice(all ? 'The grid is as it was before this visit.' : 'A step of the grid taken back.');
}

/** Four taps and more set the tempo; a pause begins anew. */
function tap() {
    const now = Math.round(performance.now());
    taps = taps.length > 0 && now - taps.at(-1) > FORGET_TAPS_MS ? [now] : [...taps, now];
    if (taps.length >= 4) {
        step({ do: 'taps', taps: taps.map((t) => t - taps[0]) });
    } else {
        notice(`${4 - taps.length} more …`);
    }
}

function selection() {
    return wave().selection ?? [0, Number(wave().dataset.frames)];
}

const tools = {
    gridTap: () => tap(),
    gridFirst: () => step({ do: 'first', seconds: seconds(wave().selection?.[0] ?? wave().cursor) }, 'The first bar begins here.'),
    gridBars: () => {
        const bars = Number(document.getElementById('stretch-bars').value);
        const [from, to] = selection().map(seconds);
        step({ do: 'stretch', from, to, beats: Number(wave().dataset.bar) * bars }, `${wave().selection ? 'The selection is' : 'It is'} ${bars} ${bars === 1 ? 'bar' : 'bars'}.`);
    },
    gridNudge: (by) => step({ do: 'move', beat: wave().line, seconds: seconds(wave().lineFrame) + Number(by) }),
    gridLine: (what) => step({ do: what, beat: wave().line }, 'This line is held.'),
    gridBack: () => back(false),
    gridVisit: () => back(true),
    gridHeard: () => {
        steps.delete(sample());
        say(sample(), { bpm: null, downbeat: null, grid: null, meter: null }, 'The grid is as it was heard.');
    },
    grid: (fields, button) => step(JSON.parse(fields), button.dataset.words),
};

document.addEventListener('click', (event) => {
    const button = event.target.closest?.('button');
    const tool = button && wave() && Object.keys(tools).find((name) => name in button.dataset);
    if (tool) {
        tools[tool](button.dataset[tool], button);
    }
});
document.addEventListener('change', (event) => {
    const { gridField, gridFrom, gridChange, grid } = event.target.dataset ?? {};
    if (!wave()) {
        return;
    }
    if (gridField && event.target.value !== '') {
        step({ ...(grid ? JSON.parse(grid) : { do: 'tempo' }), ...(gridFrom === undefined ? {} : { beat: wave().line }), [gridField]: event.target.value });
    } else if (gridChange !== undefined) {
        step({ do: 'change', beat: Number(gridChange), gradual: Number(event.target.value) });
    }
});
document.addEventListener('pestle:line', ({ detail }) => step({ do: detail.spread ? 'spread' : 'move', beat: detail.beat, seconds: detail.seconds }));
document.addEventListener('pestle:let-go', () => wave().line !== null && step({ do: 'let-go', beat: wave().line }));
document.addEventListener('pestle:tap', tap);

/** Shows which line is chosen, and what can be taken back. */
function tell() {
    const title = document.getElementById('grid-line');
    if (title && wave()) {
        const { line, lineFrame } = wave();
        const bar = Number(wave().dataset.bar);
        const chosen = lineFrame !== null;
        title.textContent = chosen ? `${Math.floor(line / bar) + 1}.${((line % bar) + bar) % bar + 1} at ${seconds(lineFrame).toFixed(3)} s` : '';
        document.getElementById('grid-line-help').hidden = chosen;
        document.getElementById('grid-line-tools').hidden = !chosen;
    }
    const made = steps.get(sample())?.length ?? 0;
    for (const button of document.querySelectorAll('[data-grid-back], [data-grid-visit]')) {
        button.disabled = made === 0;
    }
}
document.addEventListener('pestle:chosen', tell);
onPage(tell);
