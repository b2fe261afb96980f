// Partials of a wave, drawn one by one: by pointer, or by keys.

import { change } from '../changes.js';

const MOST = 64;
const SHOWN = 32;

class Partials extends HTMLElement {
    #values = [];
    #chosen = 0;
    #drawing = false;

    static observedAttributes = ['data-waves'];

    connectedCallback() {
        this.#read();
        this.addEventListener('pointerdown', (event) => {
            this.#drawing = true;
            this.setPointerCapture(event.pointerId);
            this.#at(event);
        });
        this.addEventListener('pointermove', (event) => this.#drawing && this.#at(event));
        this.addEventListener('pointerup', () => this.#end());
        this.addEventListener('keydown', (event) => this.#key(event));
    }

    attributeChangedCallback() {
        this.#read();
    }

    #read() {
        this.#values = JSON.parse(this.dataset.waves)[Number(this.dataset.wave)]?.partials ?? [1];
        this.#draw();
    }

    #at({ clientX, clientY }) {
        const box = this.getBoundingClientRect();
        this.#chosen = Math.max(0, Math.min(SHOWN - 1, Math.floor((clientX - box.left) / box.width * SHOWN)));
        this.#set(1 - (clientY - box.top) / box.height);
    }

    #set(value) {
        while (this.#values.length <= this.#chosen) {
            this.#values.push(0);
        }
        this.#values[this.#chosen] = Math.max(0, Math.min(1, Number(value.toFixed(2))));
        this.#draw();
    }

    #end() {
        if (this.#drawing) {
            this.#drawing = false;
            this.#keep();
        }
    }

    #key(event) {
        const step = event.shiftKey ? 0.01 : 0.05;
        const does = {
            ArrowLeft: () => { this.#chosen = Math.max(0, this.#chosen - 1); this.#draw(); },
            ArrowRight: () => { this.#chosen = Math.min(MOST - 1, this.#chosen + 1); this.#draw(); },
            ArrowUp: () => { this.#set((this.#values[this.#chosen] ?? 0) + step); this.#keep(); },
            ArrowDown: () => { this.#set((this.#values[this.#chosen] ?? 0) - step); this.#keep(); },
        };
        if (event.key in does && !event.ctrlKey && !event.metaKey) {
            event.preventDefault();
            event.stopPropagation();
            does[event.key]();
        }
    }

    #keep() {
        const waves = JSON.parse(this.dataset.waves);
        waves[Number(this.dataset.wave)].partials = this.#values.some((v) => v !== 0) ? this.#values : [1];
        change({ type: 'set-sound', part: this.dataset.part, waves });
    }

    #draw() {
        while (this.childElementCount < SHOWN) {
            this.append(document.createElement('i'));
        }
        [...this.children].forEach((bar, i) => {
            bar.style.height = `${Math.round(100 * Math.abs(this.#values[i] ?? 0))}%`;
            bar.toggleAttribute('data-chosen', i === this.#chosen);
        });
    }
}

customElements.define('pestle-partials', Partials);
