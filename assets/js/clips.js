// Sounds on the line of time: placed from the list of sounds or from files, cut and repeated; markers; and the place in hand.

import { arrive, arrived, leave } from './arrivals.js';
import { change } from './changes.js';
import { player } from './audio/player.js';
import { comeIn } from './gather.js';
import { playFrom, tickOf, told } from './line-of-time.js';
import { rangeOf, setRange } from './loop-range.js';
import { notice } from './notice.js';
import { goTo, onPage, page, songTime } from './page.js';
import { cursor, hand, setCursor, snapped } from './song-cursor.js';
import { framesAt, RATE, ticksAt } from './time.js';
import { ask } from './uploads.js';

function rows() {
    return document.getElementById('time-rows');
}

function tickAt({ clientX }) {
    const box = rows().querySelector('.time-ruler').getBoundingClientRect();

    return (clientX - box.left) / box.width * Number(rows().dataset.ticks);
}

function songUrl(choices) {
    const url = new URL(location.href);
    for (const [name, value] of Object.entries(choices)) {
        value ? url.searchParams.set(name, value) : url.searchParams.delete(name);
    }

    return url.pathname + url.search;
}

/** Sounds one behind another from a tick on; on a track, or on a new one that is called as the first is. */
async function place(sounds, at, track = null) {
    let id = null;
    const onto = track ?? page().nextTrack;
    for (const { sample, name, rate, from, to } of sounds) {
        const begin = at;
        const made = await change(() => {
            id = page().nextClip;

            return { type: 'add-clip', id, track: onto, name, sample, rate, at: begin, from, to };
        });
        if (!made) {
            return;
        }
        at = snapped(ticksAt(framesAt(begin, songTime()) + (to - from) / rate * RATE, songTime()));
    }
    await goTo(songUrl({ clip: id, marker: '', moves: '' }));
    document.querySelector(`[data-clip="${id}"]`)?.focus();
}

/** A part becomes sound in one coming of a section: Pestle catches it, then it takes the part's place. */
async function fix({ entry, part, name }) {
    const arrival = arrive(`${name} as sound`, 'rendering', 0.3);
    try {
        const { at, sounds } = await ask('/uploads/fixed', { method: 'POST', body: JSON.stringify({ beat: page().beat, entry, part }), headers: { 'Content-Type': 'application/json' } });
        const caught = [];
        for (const { id, channel } of sounds) {
            const { hash, rate, frames } = await arrived(id);
            if (hash) {
                caught.push({ channel, sample: hash, rate, frames });
            }
        }
        if (caught.length === 0) {
            throw new Error(`${name}: nothing is heard there.`);
        }
        await change({ type: 'fix-part', entry, part, at, sounds: caught });
    } catch (problem) {
        notice(problem.message, { bad: true });
    } finally {
        leave(arrival);
    }
}

/** The range that goes round, where it reaches into a clip. */
function rangeOver(id) {
    const range = rangeOf(page());
    const clip = [...document.querySelectorAll('pestle-track')].flatMap((track) => track.clips).find((one) => one.id === id);

    return range && clip && range.from < clip.at + (clip.to - clip.from) * clip.step && range.to > clip.at ? range : {};
}

function chosenTrack() {
    return document.querySelector('.clip[aria-current]')?.closest('pestle-track')?.dataset.track ?? null;
}

const DOES = {
    'place-sound': ({ placeSound: sound }) => place([JSON.parse(sound)], snapped(hand()), chosenTrack()),
    choose: ({ choose }) => change({ type: 'choose-take', clip: choose, ...rangeOver(choose) }),
    split: ({ split }) => change(() => ({ type: 'split-clip', clip: split, id: page().nextClip, at: hand() })),
    mark: () => {
        const id = page().nextMarker;
        change({ type: 'set-marker', id, name: `Place ${id.slice(1)}`, at: snapped(hand()) }).then((made) => made && goTo(songUrl({ marker: id, clip: '', moves: '' })));
    },
    'range-off': () => goRound(null),
    'range-section': async ({ rangeSection }) => {
        const fields = JSON.parse(rangeSection);
        const { from, to } = rangeOf(page());
        if (await change({ ...fields, range: `${from}-${to}` })) {
            goRound(null);
            await goTo(songUrl({ section: fields.id, entry: '' }));
            notice(`${fields.name} is a section now, behind the one in which the range ends.`);
        }
    },
    'play-from': ({ playFrom: tick }) => playFrom(Number(tick)),
};

document.addEventListener('click', ({ target }) => {
    const button = target.closest?.('[data-place-sound], [data-choose], [data-split], [data-mark], [data-range-off], [data-range-section], [data-play-from]');
    const what = button && Object.keys(DOES).find((name) => button.hasAttribute(`data-${name}`));
    if (what) {
        DOES[what](button.dataset);
    }
});

document.addEventListener('change', ({ target }) => {
    if (target.dataset?.repeatClip !== undefined && target.value) {
        change({ type: 'repeat-clip', clip: target.dataset.repeatClip, ...JSON.parse(target.value) });
    } else if (target.dataset?.fix !== undefined && target.value) {
        const how = JSON.parse(target.value);
        target.value = '';
        how.type ? change(how) : fix(how);
    } else if (target.dataset?.nameClip && target.value.trim()) {
        change({ type: 'set-clips', clips: [{ id: target.dataset.nameClip, name: target.value }] });
    } else if (target.dataset?.placeAt !== undefined) {
        const at = tickOf(target.value);
        if (at === null) {
            target.value = target.defaultValue;
            notice('A place is a bar, a beat and a step: 5.1.1, or 5 for its start.', { bad: true });
        } else {
            change(filled(JSON.parse(target.dataset.placeAt), at));
        }
    }
});

/** A change with a tick in the place of its "at". */
function filled(fields, at) {
    return JSON.parse(JSON.stringify(fields), (key, value) => (key === 'at' ? at : value));
}

document.addEventListener('dragstart', (event) => {
    const row = event.target.closest?.('[data-sound]');
    if (row) {
        event.dataTransfer.setData('application/x-pestle-sound', row.querySelector('[data-place-sound]').dataset.placeSound);
        event.dataTransfer.effectAllowed = 'copy';
    }
});

function isSound(event) {
    return event.target.closest?.('#time-rows') && ['application/x-pestle-sound', 'Files'].some((type) => event.dataTransfer.types.includes(type));
}

function over(track) {
    for (const own of document.querySelectorAll('pestle-track')) {
        own.toggleAttribute('data-over', own === track);
    }
}

document.addEventListener('dragover', (event) => {
    if (isSound(event)) {
        event.preventDefault();
        over(event.target.closest('pestle-track'));
    }
});
document.addEventListener('dragend', () => over(null));

// Before it is taken for something that shall only come into the library.
document.addEventListener('drop', async (event) => {
    if (!isSound(event)) {
        return;
    }
    event.preventDefault();
    event.stopPropagation();
    over(null);
    delete document.body.dataset.dragging;
    const [at, track] = [snapped(Math.max(0, tickAt(event))), event.target.closest('pestle-track')?.dataset.track ?? null];
    const sound = event.dataTransfer.getData('application/x-pestle-sound');
    if (sound) {
        await place([JSON.parse(sound)], at, track);

        return;
    }
    const came = await comeIn([...event.dataTransfer.files]);
    await place(came.map(({ hash, name, rate, frames }) => ({ sample: hash, name, rate, from: 0, to: frames })), at, track);
}, { capture: true });

/** Over the ruler a range is drawn that goes round. */
document.addEventListener('pointerdown', (event) => {
    const ruler = event.target.closest?.('.time-ruler');
    if (!ruler || event.button !== 0) {
        return;
    }
    const [x, from] = [event.clientX, tickAt(event)];
    let drawn = false;
    const move = (e) => {
        drawn ||= Math.abs(e.clientX - x) > 4;
        if (drawn) {
            const [first, last] = [from, tickAt(e)].map(snapped).sort((a, b) => a - b);
            band({ from: first, to: last });
        }
    };
    addEventListener('pointermove', move);
    addEventListener('pointerup', (e) => {
        removeEventListener('pointermove', move);
        if (drawn) {
            // What was drawn is no click.
            const swallow = (click) => click.stopPropagation();
            addEventListener('click', swallow, { capture: true });
            setTimeout(() => removeEventListener('click', swallow, { capture: true }));
            const [first, last] = [from, tickAt(e)].map(snapped).sort((a, b) => a - b);
            goRound(first < last ? { from: first, to: last } : null);
        }
    }, { once: true });
});

/** Lets a range go round from now on; null for the section again. */
function goRound(range) {
    setRange(range);
    if (range) {
        player.what = 'loop';
    }
    if (player.playing) {
        player.stop();
        player.play();
    }
}

function band(range) {
    const element = document.getElementById('time-range');
    if (element) {
        element.hidden = range === null;
        element.style.transform = range && `translateX(${left(range.from)}px)`;
        element.style.width = range && `${left(range.to) - left(range.from)}px`;
    }
}

/** The range as it is typed and shown. */
function showRange() {
    const range = rangeOf(page());
    band(range);
    for (const [name, field] of [['from', document.querySelector('[data-range-from]')], ['to', document.querySelector('[data-range-to]')]]) {
        if (field) {
            field.value = range ? told(range[name]) : '';
        }
    }
    document.querySelectorAll('[data-range-off], [data-range-section]').forEach((button) => button.toggleAttribute('hidden', range === null));
}

document.addEventListener('change', ({ target }) => {
    if (target.dataset?.rangeFrom === undefined && target.dataset?.rangeTo === undefined) {
        return;
    }
    const [from, to] = ['from', 'to'].map((name) => tickOf(document.querySelector(`[data-range-${name}]`).value || ' '));
    if (from !== null && to !== null && from < to) {
        goRound({ from, to });
    }
});

// Markers are dragged along the ruler, or moved and taken away by keys.
document.addEventListener('pointerdown', (event) => {
    const marker = event.target.closest?.('.time-marker b');
    if (!marker || event.button !== 0) {
        return;
    }
    const own = marker.parentElement;
    const x = event.clientX;
    let at = null;
    const move = (e) => {
        if (at !== null || Math.abs(e.clientX - x) > 3) {
            at = snapped(tickAt(e));
            own.style.transform = `translateX(${left(at)}px)`;
        }
    };
    addEventListener('pointermove', move);
    addEventListener('pointerup', () => {
        removeEventListener('pointermove', move);
        if (at !== null) {
            change({ type: 'set-marker', ...JSON.parse(own.dataset.marker), at });
        }
    }, { once: true });
});

document.addEventListener('keydown', (event) => {
    const marker = event.target.closest?.('.time-marker');
    if (!rows() || event.ctrlKey || event.metaKey || event.altKey || event.target.matches('input, select, textarea')) {
        return;
    }
    if (event.key === 'PageDown' || event.key === 'PageUp') {
        event.preventDefault();
        jump(event.key === 'PageDown' ? 1 : -1);
    } else if (marker && [',', '.'].includes(event.key)) {
        event.preventDefault();
        event.stopPropagation();
        const fields = JSON.parse(marker.dataset.marker);
        const step = Number(document.querySelector('[data-snap=time]')?.value) || 60;
        change({ type: 'set-marker', ...fields, at: Math.max(0, fields.at + (event.key === ',' ? -step : step)) });
    } else if (marker && ['Delete', 'Backspace'].includes(event.key)) {
        event.preventDefault();
        change({ type: 'remove-marker', marker: JSON.parse(marker.dataset.marker).id });
    }
});

/** To the marker before or behind; what plays goes on from there. */
function jump(by) {
    const at = [...document.querySelectorAll('.time-marker')].map((marker) => JSON.parse(marker.dataset.marker).at);
    // Just behind one, the one before it is meant.
    const from = hand() - (by < 0 && player.playing ? 960 : 0);
    const to = by > 0 ? at.find((tick) => tick > from) : at.findLast((tick) => tick < from) ?? 0;
    if (to === undefined) {
        return;
    }
    if (player.playing && player.what === 'song') {
        playFrom(to);
    }
    setCursor(to);
}

function left(tick) {
    const lanes = rows().querySelector('.time-ruler');

    return lanes.offsetLeft + tick / Number(rows().dataset.ticks) * lanes.clientWidth;
}

function show() {
    if (!rows()) {
        return;
    }
    const line = document.getElementById('time-cursor');
    if (line) {
        line.style.transform = `translateX(${left(cursor())}px)`;
    }
    for (const marker of document.querySelectorAll('.time-marker')) {
        const x = left(JSON.parse(marker.dataset.marker).at);
        marker.style.transform = `translateX(${x}px)`;
        marker.toggleAttribute('data-turned', x + 130 > rows().scrollWidth);
    }
    showRange();
}
onPage(() => requestAnimationFrame(show));
addEventListener('resize', show);
document.addEventListener('pestle:cursor', show);
document.addEventListener('pestle:laid', show);
document.addEventListener('pestle:range', show);
