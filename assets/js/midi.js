// MIDI controllers, and the simulated one that speaks the same messages: strikes, pressure and sliders. Which of their pads is which
// place of the dock, and which slider moves what, is learned by striking and moving, and remembered by the controller's name.

import { askBrowser } from './beside/devices.js';
import { usedAs } from './beside/uses.js';
import { placeElement, strikeNumber } from './dock.js';
import { letGo, press, strikeNote } from './hands.js';
import { notice } from './notice.js';
import { page } from './page.js';

const FIRST_NOTE = 36;
const PLACES = 16;
const REST_MS = 250;
/** Which place is learned next, or null; and which slider of the page, or null. */
let learning = null;
let learningSlider = null;
const moving = new Map();

function mappings() {
    return JSON.parse(localStorage.getItem('pestle-controllers') ?? '{}');
}

function remember(device, what, from, to) {
    const all = mappings();
    all[device] ??= { places: {}, sliders: {} };
    all[device][what][from] = to;
    localStorage.setItem('pestle-controllers', JSON.stringify(all));
}

/** Takes a message of a controller: status, and two data bytes. */
export function receive(device, [status, first, second = 0], moment = performance.now()) {
    const kind = status & 0xf0;
    if (kind === 0x90 && second > 0) {
        strikes(device, first, second, moment);
    } else if (kind === 0x80 || kind === 0x90) {
        letGo(`${device} ${first}`);
    } else if (kind === 0xa0) {
        press(`${device} ${first}`, second);
    } else if (kind === 0xd0) {
        // Pressure of the whole: of all that it holds.
        moves(device, 'pressure', first / 127);
        for (let note = 0; note < 128; note += 1) {
            press(`${device} ${note}`, first);
        }
    } else if (kind === 0xb0) {
        moves(device, first, second / 127);
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
    const hold = `${device} ${note}`;
    if (page()?.keys) {
        strikeNote(note, velocity, hold, moment);

        return;
    }
    const place = mappings()[device]?.places[note] ?? note - FIRST_NOTE;
    if (place >= 0 && place < PLACES) {
        strikeNumber(place, velocity, hold, moment);
    }
}

/**
 * A slider of a controller, its bend wheel or its pressure moves a setting of the page: heard while it moves, kept when it rests.
 *
 * @param {number|string} number of the slider; 1 is the modulation wheel by the standard
 */
function moves(device, number, way) {
    if (learningSlider) {
        remember(device, 'sliders', number, learningSlider);
        const called = { 1: 'The wheel', bend: 'The bend wheel', pressure: 'Pressure' }[number] ?? `Slider ${number}`;
        notice(`${called} of ${device} moves ${learningSlider.label} now.`);
        endLearning();

        return;
    }
    const target = mappings()[device]?.sliders[number];
    const field = target && [...document.querySelectorAll('[data-slider] input[type=range]')].find((range) => range.name === target.name && JSON.parse(range.getAttribute('hx-vals')).under === target.under);
    if (!field) {
        return;
    }
    field.value = String(Number(field.min) + way * (field.max - field.min));
    field.dispatchEvent(new Event('input', { bubbles: true }));
    clearTimeout(moving.get(field.name));
    moving.set(field.name, setTimeout(() => field.dispatchEvent(new Event('change', { bubbles: true })), REST_MS));
}

function learnPlace(place) {
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
    learning = learningSlider = null;
    for (const pad of document.querySelectorAll('.dock .pad[data-learning]')) {
        delete pad.dataset.learning;
    }
    say('');
    delete document.documentElement.dataset.learning;
}

function say(text) {
    const line = document.getElementById('controllers-say');
    if (line) {
        line.textContent = text;
    }
}

document.addEventListener('pestle:played', ({ detail: { device, bytes, moment } }) => {
    if (usedAs(device) === 'controller') {
        receive(device.name, bytes, moment);
    }
});

document.addEventListener('click', (event) => {
    if (event.target.closest('[data-controllers-connect]')) {
        askBrowser().then(say);
    } else if (event.target.closest('[data-controllers-learn]')) {
        learnPlace(0);
    } else if (event.target.closest('[data-controllers-slider]')) {
        learningSlider = null;
        document.documentElement.dataset.learning = 'slider';
        say('Touch a slider on the page, then move the controller\'s.');
    } else if (event.target.closest('[data-controllers-forget]')) {
        localStorage.removeItem('pestle-controllers');
        say('All mappings are forgotten.');
    } else if (event.target.closest('[data-controllers]')) {
        const panel = document.getElementById('controllers');
        panel.hidden = !panel.hidden;
    }
});
// While a slider is being learned, touching one names it.
document.addEventListener('pointerdown', (event) => {
    const field = document.documentElement.dataset.learning === 'slider' ? event.target.closest('[data-slider] input[type=range]') : null;
    const { under } = field ? JSON.parse(field.getAttribute('hx-vals')) : {};
    if (under) {
        event.preventDefault();
        learningSlider = { name: field.name, under, label: field.getAttribute('aria-label') };
        say(`${learningSlider.label}: now move the controller's slider.`);
    }
}, true);
document.addEventListener('keydown', (event) => {
    if (event.key === 'Escape' && (learning !== null || document.documentElement.dataset.learning)) {
        endLearning();
    }
});

/** The simulated controller: pads that know how hard and where they are pressed, and sliders. */
class SimulatedController extends HTMLElement {
    connectedCallback() {
        if (this.childElementCount > 0) {
            return;
        }
        const pads = Array.from({ length: PLACES }, (_, i) => `<button type="button" data-note="${FIRST_NOTE + i}" aria-label="Controller pad ${i + 1}">${i + 1}</button>`).join('');
        const sliders = Array.from({ length: 4 }, (_, i) => `<label class="small">${i + 1} <input type="range" class="plain" min="0" max="127" value="64" data-number="${20 + i}" aria-label="Controller slider ${i + 1}"></label>`).join('');
        const bend = '<label class="small">bend <input type="range" class="plain" min="0" max="16383" value="8192" data-bend aria-label="Controller bend wheel"></label>';
        this.innerHTML = `<div class="rubber">${pads}</div><div class="faders">${sliders}${bend}</div>`;
        this.addEventListener('pointerdown', (event) => this.#strike(event));
        this.addEventListener('pointermove', (event) => this.#press(event));
        for (const over of ['pointerup', 'pointercancel']) {
            this.addEventListener(over, (event) => this.#letGo(event));
        }
        this.addEventListener('input', ({ target }) => {
            const value = Number(target.value);
            receive(this.name, target.dataset.bend === undefined ? [0xb0, Number(target.dataset.number), value] : [0xe0, value & 127, value >> 7]);
        });
        // A bend wheel springs back when it is let go.
        this.addEventListener('change', ({ target }) => {
            if (target.dataset.bend !== undefined) {
                target.value = 8192;
                receive(this.name, [0xe0, 0, 64]);
            }
        });
    }

    get name() {
        return 'Simulated controller';
    }

    /** Nearer the top, harder. */
    #force(pad, event) {
        const box = pad.getBoundingClientRect();

        return Math.max(1, Math.min(127, Math.round(127 * (1 - (event.clientY - box.top) / box.height))));
    }

    #strike(event) {
        const pad = event.target.closest('[data-note]');
        if (pad) {
            event.preventDefault();
            pad.setPointerCapture(event.pointerId);
            receive(this.name, [0x90, Number(pad.dataset.note), this.#force(pad, event)], event.timeStamp);
        }
    }

    #press(event) {
        const pad = event.target.closest('[data-note]');
        if (pad?.hasPointerCapture(event.pointerId)) {
            receive(this.name, [0xa0, Number(pad.dataset.note), this.#force(pad, event)], event.timeStamp);
        }
    }

    #letGo(event) {
        const pad = event.target.closest('[data-note]');
        if (pad?.hasPointerCapture(event.pointerId)) {
            receive(this.name, [0x80, Number(pad.dataset.note), 0], event.timeStamp);
        }
    }
}
customElements.define('pestle-controller', SimulatedController);
