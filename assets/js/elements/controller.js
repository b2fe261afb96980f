// A controller on the page, for who has none: it speaks the MIDI messages of a real one.

import { FIRST_NOTE, PLACES, receive } from '../midi.js';

/** Pads that know how hard and where they are pressed, and sliders. */
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
