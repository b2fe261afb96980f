// The sixteen pads: struck by pointer, by key and by controllers.

import { change } from './changes.js';
import { goTo, onPage, page } from './page.js';
import { prefetch } from './audio/pads.js';
import { letGo, noteUrl, press, soundOf, strikePad, strikePlace } from './hands.js';

const SOFT = 58;
const USUAL = 108;
const LEAST = 37;

/** The strength every strike of a pointer has; 0 for the nearer the centre, the stronger. */
function chosenStrength() {
    return Number(localStorage.getItem('pestle-strength') ?? 0);
}

function pointerVelocity(pad, event) {
    if (chosenStrength() > 0) {
        return chosenStrength();
    }
    const box = pad.getBoundingClientRect();
    const x = (event.clientX - box.left) / box.width * 2 - 1;
    const y = (event.clientY - box.top) / box.height * 2 - 1;

    return Math.round(127 - (127 - LEAST) * Math.min(1, Math.hypot(x, y) / 1.2));
}

export function strikeKey(key, soft, moment) {
    strikePlace(document.querySelector(`.pad[data-key="${CSS.escape(key)}"]`), soft ? SOFT : USUAL, `key ${key}`, moment);
}

export function placeElement(place) {
    return document.querySelector(`.dock .pad[data-number="${place}"]`);
}

/** Strikes the place of a number, 0 to 15, in the order of the keys. */
export function strikeNumber(place, velocity, hold, moment) {
    strikePlace(placeElement(place), velocity, hold, moment);
}

document.addEventListener('pointerdown', (event) => {
    const pad = event.target.closest('.pad[data-pad], .pad[data-note], .pad[data-grade]');
    if (pad && event.button === 0) {
        // Several fingers strike and hold at once.
        strikePlace(pad, pointerVelocity(pad, event), `pointer ${event.pointerId}`, event.timeStamp);
    }
    const named = event.target.closest('[data-strike]');
    if (named) {
        strikePad(named.dataset.strike, USUAL, `pointer ${event.pointerId}`, event.timeStamp);
    }
});
addEventListener('pointermove', (event) => {
    const pad = event.buttons > 0 ? event.target.closest?.('.pad[data-pad], .pad[data-note], .pad[data-grade]') : null;
    if (pad) {
        // A roll follows the pen's pressure, or how high the pointer is.
        const box = pad.getBoundingClientRect();
        const height = 1 - (event.clientY - box.top) / box.height;
        press(`pointer ${event.pointerId}`, 127 * (event.pointerType === 'pen' && event.pressure > 0 ? event.pressure : height));
    }
});
for (const over of ['pointerup', 'pointercancel']) {
    addEventListener(over, (event) => letGo(`pointer ${event.pointerId}`));
}

document.addEventListener('click', (event) => {
    const pad = event.target.closest('.pad');
    // Where a pad is worked on, striking it also chooses it; a free pad leads to the library.
    if (pad?.dataset.pad && page().workspace === 'kit' && !('chosen' in pad.dataset) && !event.ctrlKey && !event.metaKey) {
        const url = new URL(location.href);
        url.searchParams.set('pad', pad.dataset.pad);
        url.searchParams.delete('layer');
        goTo(url.pathname + url.search);
    } else if (pad?.dataset.free && page().workspace !== 'gather') {
        goTo(`/beats/${page().beat}/gather?bank=${pad.dataset.free.match(/^[a-z]+/)[0]}`);
    }
    if (event.detail === 0 && pad) {
        strikePlace(pad, USUAL, null);
    }
    if (event.target.closest('[data-fold-dock]')) {
        localStorage.setItem('pestle-dock', 'folded');
        fold();
    } else if (event.target.closest('.dock[data-folded]')) {
        localStorage.removeItem('pestle-dock');
        fold();
    }
});

document.addEventListener('change', (event) => {
    if (event.target.matches('[data-strength]')) {
        localStorage.setItem('pestle-strength', event.target.value);
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
    const strength = document.querySelector('[data-strength]');
    if (strength) {
        strength.value = String(chosenStrength());
    }
    const keys = page()?.keys;
    // Of notes the usual strength first; others are fetched when they are struck.
    const notes = keys ? [...document.querySelectorAll('.pad[data-note]')].map((pad) => soundOf({ ...keys, url: noteUrl(keys, pad.dataset.note) }, USUAL)) : [];
    const plays = [...document.querySelectorAll('.pad[data-play]')].map((pad) => [JSON.parse(pad.dataset.play), pad.dataset.grade ?? '']);
    const pads = plays.map(([play, grade]) => play.strengths.flatMap((top) => Array.from({ length: play.turns }, (_, turn) => soundOf(play, top, turn, grade))).reverse());
    // The strongest strike of every pad before the softer ones of any.
    const graded = Array.from({ length: Math.max(0, ...pads.map((urls) => urls.length)) }, (_, i) => pads.map((urls) => urls[i]));
    prefetch([...notes, ...graded.flat().filter((url) => url)]);
});
