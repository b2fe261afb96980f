// Controllers: what they play strikes pads and notes, what they move moves the page. Which of their pads is which place of the dock,
// and which slider, turner or button of theirs moves what, is learned by touching.

import { areTurns, mappingOf, remember, steps, takesHold } from './beside/mapping.js';
import { usedAs } from './beside/uses.js';
import { controlOf, fieldOf, press as pressButton, release } from './beside/touched.js';
import { placeElement, strikeNumber } from './dock.js';
import { letGo, press, strikeNote } from './hands.js';
import { notice } from './notice.js';
import { page } from './page.js';

export const FIRST_NOTE = 36;
export const PLACES = 16;
const REST_MS = 250;
/** What a turner moves in a step, of the whole. */
const TURN = 1 / 100;
/** Which place is learned next, or null; and which control of the page: null, "touch" before it is touched. */
let learning = null;
let learningControl = null;
const moving = new Map();
/** The last values of each slider, by device and number; and all that is held of a device. */
const last = new Map();
const holding = new Map();

/** Takes a message of a controller: status, and two data bytes. */
export function receive(device, [status, first, second = 0], moment = performance.now()) {
    const kind = status & 0xf0;
    if (kind === 0x90 && second > 0) {
        strikes(device, first, second, moment);
    } else if (kind === 0x80 || kind === 0x90) {
        letGo(`${device} ${first}`);
        release(`${device} ${first}`);
    } else if (kind === 0xa0) {
        press(`${device} ${first}`, second);
    } else if (kind === 0xd0) {
        // Pressure of the whole: of all that it holds.
        moves(device, 'pressure', first / 127);
        for (let note = 0; note < 128; note += 1) {
            press(`${device} ${note}`, first);
        }
    } else if (kind === 0xb0) {
        moves(device, first, second / 127, second);
    } else if (kind === 0xe0) {
        moves(device, 'bend', (second * 128 + first) / 16383);
    }
    document.dispatchEvent(new CustomEvent('pestle:midi', { detail: { device, status, first, second } }));
}

function strikes(device, note, velocity, moment) {
    if (learning !== null) {
        remember(device, 'places', note, learning);
        learnPlace(learning + 1);

        return;
    }
    if (learned(device, `note ${note}`, `Pad ${note}`)) {
        return;
    }
    const { places, sliders } = mappingOf(device);
    const hold = `${device} ${note}`;
    holding.set(device, (holding.get(device) ?? new Set()).add(hold));
    if (sliders[`note ${note}`]) {
        pressButton(sliders[`note ${note}`], hold);

        return;
    }
    const place = places[note];
    if (page()?.keys && place === undefined) {
        strikeNote(note, velocity, hold, moment);
    } else if ((place ?? note - FIRST_NOTE) >= 0 && (place ?? note - FIRST_NOTE) < PLACES) {
        strikeNumber(place ?? note - FIRST_NOTE, velocity, hold, moment);
    }
}

/** Whether a control of the page was being learned, and is known now. */
function learned(device, from, called) {
    if (!learningControl || learningControl === 'touch') {
        return false;
    }
    remember(device, 'sliders', from, learningControl);
    notice(`${called} of ${device} ${learningControl.press ? 'presses' : 'moves'} ${learningControl.label} now.`);
    endLearning();

    return true;
}

/**
 * A slider of a controller, its bend wheel or its pressure moves a setting of the page: heard while it moves, kept when it rests.
 *
 * @param {number|string} number of the slider; 1 is the modulation wheel by the standard
 * @param {number} way    where it stands, 0 to 1
 * @param {number} [value] as it was sent
 */
function moves(device, number, way, value = null) {
    const called = { 1: 'The wheel', bend: 'The bend wheel', pressure: 'Pressure' }[number] ?? `Slider ${number}`;
    const key = `${device} ${number}`;
    const before = last.get(key) ?? [];
    last.set(key, [...before, value ?? way * 127].slice(-4));
    if (learned(device, number, called)) {
        return;
    }
    const { sliders, take } = mappingOf(device);
    const control = sliders[number];
    if (control?.press) {
        if (value >= 64 && (before.at(-1) ?? 0) < 64) {
            pressButton(control, key);
        } else if (value < 64) {
            release(key);
        }

        return;
    }
    const field = control && fieldOf(control);
    if (!field) {
        return;
    }
    if (value !== null && !control.turns && areTurns(last.get(key))) {
        control.turns = true;
        remember(device, 'sliders', number, control);
        notice(`${called} of ${device} has no end: it moves ${control.label} by steps.`);
    }
    const range = field.max - field.min;
    const there = (field.value - field.min) / range;
    if (!control.turns && !takesHold(take, before.length > 0 ? before.at(-1) / 127 : null, way, there)) {
        say(`${control.label} stands at ${Math.round(100 * there)} %: move ${called.toLowerCase()} through it to pick it up.`);

        return;
    }
    field.value = String(Number(field.min) + range * Math.max(0, Math.min(1, control.turns ? there + TURN * steps(value) : way)));
    field.dispatchEvent(new Event('input', { bubbles: true }));
    clearTimeout(moving.get(field.name));
    moving.set(field.name, setTimeout(() => field.dispatchEvent(new Event('change', { bubbles: true })), REST_MS));
}

export function learnPlace(place) {
    for (const pad of document.querySelectorAll('.dock .pad[data-learning]')) {
        delete pad.dataset.learning;
    }
    if (place >= PLACES) {
        endLearning();
        notice('All sixteen pads of the controller are known now.');

        return;
    }
    learning = place;
    const pad = placeElement(place);
    pad.dataset.learning = '';
    say(`Strike the controller's pad for ${pad.dataset.key}. Escape ends.`);
}

function endLearning() {
    learning = learningControl = null;
    for (const pad of document.querySelectorAll('.dock .pad[data-learning]')) {
        delete pad.dataset.learning;
    }
    say('');
    delete document.documentElement.dataset.learning;
}

export function say(text) {
    const line = document.getElementById('controllers-say');
    if (line) {
        line.textContent = text;
    }
}

/** What is touched next on the page is what the next thing touched on a controller moves. */
export function learnControl() {
    learningControl = 'touch';
    document.documentElement.dataset.learning = 'slider';
    say('Touch a slider or a button on the page, then what is to move it.');
}

document.addEventListener('pestle:played', ({ detail: { device, bytes, moment } }) => {
    if (usedAs(device) === 'controller') {
        receive(device.name, bytes, moment);
    }
});
// What a device held when it was pulled out is let go.
document.addEventListener('pestle:device-gone', ({ detail: { device } }) => {
    holding.get(device.name)?.forEach((hold) => {
        letGo(hold);
        release(hold);
    });
    holding.delete(device.name);
});
// While a control is being learned, touching one names it and does nothing else.
for (const name of ['pointerdown', 'click']) {
    document.addEventListener(name, (event) => {
        const control = document.documentElement.dataset.learning === 'slider' && !event.target.closest('#controllers') ? controlOf(event.target) : null;
        if (control) {
            event.preventDefault();
            event.stopPropagation();
            learningControl = control;
            say(`${control.label}: now touch what is to ${control.press ? 'press' : 'move'} it.`);
        }
    }, true);
}
document.addEventListener('keydown', (event) => {
    if (event.key === 'Escape' && (learning !== null || document.documentElement.dataset.learning)) {
        endLearning();
    }
});
