// The sixteen pads: struck by pointer or key, they sound at once and light with their velocity.

import { change } from './changes.js';
import { onPage, page } from './page.js';
import { player } from './audio/player.js';
import { heardAt } from './audio/context.js';
import { prefetch, release, strike } from './audio/pads.js';
import { recorder } from './recorder.js';
import { goTo } from './page.js';

const SOFT = 58;
const USUAL = 108;
const held = new Map();

function padElement(id) {
    return document.getElementById(`pad-${id}`);
}

/** Address of what a pad sounds like; where strength changes more than its level, of what answers. */
function soundOf(pad, velocity) {
    return `${pad.dataset.sound}?velocity=${renderedAt(pad, velocity)}`;
}

/** The strength its sound was rendered at. */
function renderedAt(pad, velocity) {
    return JSON.parse(pad.dataset.strengths).find((top) => velocity <= top);
}

/** Strikes a pad; `hold` names what holds it, so that letGo can end it; `moment` is the timeStamp of what struck it. */
export async function strikePad(id, velocity, hold = null, moment = performance.now()) {
    const pad = padElement(id);
    if (!pad?.dataset.sound) {
        return;
    }
    light(pad, velocity);
    const note = recorder.strike(id, velocity, player.playing && player.what === 'loop' && player.loop ? player.ticks(heardAt(moment)) : null, hold !== null);
    if (hold !== null) {
        held.set(hold, { pad, note, voice: null });
    }
    const voice = await strike({ pad: id, url: soundOf(pad, velocity), velocity, rendered: renderedAt(pad, velocity), choke: Number(pad.dataset.choke) });
    if (hold !== null && held.has(hold)) {
        held.get(hold).voice = voice;
    } else if (hold !== null && pad.dataset.mode === 'held') {
        release(voice);
    }
}

/** Plays a note of the part that is open, like a pad. */
export async function strikeNote(pitch, velocity, hold = null, moment = performance.now()) {
    const { keys } = page();
    if (!keys || pitch < keys.low || pitch > keys.high) {
        return;
    }
    const element = document.querySelector(`.pad[data-note="${pitch}"]`);
    if (element) {
        light(element, velocity);
    }
    const note = hold === null ? null : recorder.strike(pitch, velocity, player.playing && player.what === 'loop' && player.loop ? player.ticks(heardAt(moment)) : null, true);
    if (hold !== null) {
        held.set(hold, { keys, note, voice: null });
    }
    const voice = await strike({ pad: `note ${pitch}`, url: noteUrl(keys, pitch), velocity, rendered: 127, choke: keys.single ? 99 : 0 });
    if (hold !== null && held.has(hold)) {
        held.get(hold).voice = voice;
    } else if (keys.held) {
        release(voice, hold === null ? 0.25 : 0, keys.releaseMs / 1000);
    }
}

function noteUrl(keys, pitch) {
    return `${keys.sound}/${pitch}/${keys.key}`;
}

export function letGo(hold) {
    const strikeHeld = held.get(hold);
    if (!strikeHeld) {
        return;
    }
    held.delete(hold);
    recorder.letGo(strikeHeld.note, player.ticks(heardAt()));
    if (strikeHeld.voice && strikeHeld.keys?.held) {
        release(strikeHeld.voice, 0, strikeHeld.keys.releaseMs / 1000);
    } else if (strikeHeld.voice && strikeHeld.pad?.dataset.mode === 'held') {
        release(strikeHeld.voice);
    }
}

export function strikeKey(key, soft, moment) {
    const pad = document.querySelector(`.pad[data-key="${CSS.escape(key)}"]`);
    if (pad?.dataset.pad) {
        strikePad(pad.dataset.pad, soft ? SOFT : USUAL, `key ${key}`, moment);
    } else if (pad?.dataset.note) {
        strikeNote(Number(pad.dataset.note), soft ? SOFT : USUAL, `key ${key}`, moment);
    }
}

function light(pad, velocity) {
    pad.dataset.lit = '';
    const glow = pad.querySelector('.glow');
    glow.style.height = `${velocity / 1.27}%`;
    setTimeout(() => {
        delete pad.dataset.lit;
        glow.style.height = '0';
    }, 140);
}

document.addEventListener('pointerdown', (event) => {
    const pad = event.target.closest('.pad[data-pad], .pad[data-note]');
    if (pad && event.button === 0) {
        const box = pad.getBoundingClientRect();
        const x = (event.clientX - box.left) / box.width * 2 - 1;
        const y = (event.clientY - box.top) / box.height * 2 - 1;
        // The nearer the centre, the stronger.
        const velocity = Math.round(127 - 90 * Math.min(1, Math.hypot(x, y) / 1.2));
        if (pad.dataset.note) {
            strikeNote(Number(pad.dataset.note), velocity, 'pointer', event.timeStamp);
        } else {
            strikePad(pad.dataset.pad, velocity, 'pointer', event.timeStamp);
        }
    }
    const named = event.target.closest('[data-strike]');
    if (named) {
        strikePad(named.dataset.strike, USUAL, 'pointer', event.timeStamp);
    }
});
addEventListener('pointerup', () => letGo('pointer'));

document.addEventListener('click', (event) => {
    const pad = event.target.closest('.pad');
    // Where a pad is worked on, striking it also chooses it; a free pad leads to the library.
    if (pad?.dataset.pad && page().workspace === 'kit' && !('chosen' in pad.dataset)) {
        const url = new URL(location.href);
        url.searchParams.set('pad', pad.dataset.pad);
        goTo(url.pathname + url.search);
    } else if (pad?.dataset.free && page().workspace !== 'gather') {
        goTo(`/beats/${page().beat}/gather?bank=${pad.dataset.free.match(/^[a-z]+/)[0]}`);
    }
    if (event.detail === 0 && pad?.dataset.pad) {
        strikePad(pad.dataset.pad, USUAL);
    } else if (event.detail === 0 && pad?.dataset.note) {
        strikeNote(Number(pad.dataset.note), USUAL);
    }
    if (event.target.closest('[data-fold-dock]')) {
        localStorage.setItem('pestle-dock', 'folded');
        fold();
    } else if (event.target.closest('.dock[data-folded]')) {
        localStorage.removeItem('pestle-dock');
        fold();
    }
});

function fold() {
    const dock = document.getElementById('dock');
    if (dock) {
        const folded = localStorage.getItem('pestle-dock') === 'folded';
        dock.toggleAttribute('data-folded', folded);
        dock.querySelector('.unfold')?.remove();
        if (folded) {
            const button = document.createElement('button');
            button.className = 'unfold small';
            button.textContent = 'Show the pads';
            dock.append(button);
        }
    }
}

/** Puts a stretch of a sample on a pad. */
export function fillPad(pad, sample, start = 0, end = sample.frames) {
    return change({ type: 'fill-pad', pad, sample: sample.hash, name: sample.name, role: sample.role ?? 'percussion', start, end });
}

onPage(() => {
    fold();
    const keys = page()?.keys;
    const notes = keys ? [...document.querySelectorAll('.pad[data-note]')].map((pad) => noteUrl(keys, pad.dataset.note)) : [];
    const pads = [...document.querySelectorAll('.pad[data-sound]')].map((pad) => JSON.parse(pad.dataset.strengths).map((top) => soundOf(pad, top)).reverse());
    // The strongest strike of every pad before the softer ones of any.
    const graded = Array.from({ length: Math.max(0, ...pads.map((urls) => urls.length)) }, (_, i) => pads.map((urls) => urls[i]));
    prefetch([...notes, ...graded.flat().filter((url) => url)]);
});
