// The equalizer: a handle for every band on a response that PHP draws; the numbers of the chosen one below.

import { change } from '../changes.js';
import { onPage } from '../page.js';
import { player } from '../audio/player.js';
import { follow, written } from '../writing.js';

const WIDTH = 640;
const HEIGHT = 132;
const RANGE_DB = 20;
const NAMES = { 'high-pass': 'High pass', 'low-shelf': 'Low shelf', peak: 'Peak', 'high-shelf': 'High shelf', 'low-pass': 'Low pass' };

const x = (hz) => WIDTH * Math.log10(hz / 20) / 3;
const y = (band) => HEIGHT / 2 - (band.shape.endsWith('pass') ? 0 : band.gainDb) / RANGE_DB * HEIGHT / 2;

class Eq extends HTMLElement {
    #bands = [];
    #chosen = 1;
    /** The handle to which keys went: it keeps the focus when the page is exchanged. */
    #keyed = -1;

    connectedCallback() {
        this.refresh = () => this.#read();
        onPage(this.refresh);
        this.#read();
    }

    disconnectedCallback() {
        document.removeEventListener('pestle:page', this.refresh);
    }

    #read() {
        if (!this.isConnected) {
            return;
        }
        this.#bands = JSON.parse(this.dataset.bands);
        this.#handles();
        this.#controls();
    }

    #handles() {
        const svg = this.querySelector('svg');
        svg.querySelectorAll('.handle').forEach((handle) => handle.remove());
        this.#bands.forEach((band, i) => {
            const handle = document.createElementNS('http://www.w3.org/2000/svg', 'circle');
            handle.setAttribute('class', 'handle');
            handle.setAttribute('r', '6');
            handle.setAttribute('tabindex', '0');
            handle.setAttribute('role', 'button');
            handle.setAttribute('aria-pressed', String(i === this.#chosen));
            handle.toggleAttribute('data-off', !band.on);
            handle.addEventListener('pointerdown', (event) => this.#drag(event, i, handle));
            handle.addEventListener('focus', () => this.#choose(i));
            handle.addEventListener('keydown', (event) => this.#key(event, i, handle));
            this.#place(handle, band);
            svg.append(handle);
            if (i === this.#keyed) {
                this.#keyed = -1;
                handle.focus();
            }
        });
    }

    #place(handle, band) {
        handle.setAttribute('cx', x(band.hz));
        handle.setAttribute('cy', y(band));
        handle.setAttribute('aria-label', `${NAMES[band.shape]}, ${Math.round(band.hz)} Hz, ${band.gainDb.toFixed(1)} dB, ${band.on ? 'on' : 'off'}`);
    }

    #choose(i) {
        if (this.#chosen !== i) {
            this.#chosen = i;
            this.querySelectorAll('.handle').forEach((handle, k) => handle.setAttribute('aria-pressed', String(k === i)));
            this.#controls();
        }
    }

    #drag(event, i, handle) {
        event.preventDefault();
        handle.focus();
        handle.setPointerCapture(event.pointerId);
        const box = this.querySelector('svg').getBoundingClientRect();
        const band = { ...this.#bands[i] };
        const move = (e) => {
            band.hz = this.#within('hz', 20 * 10 ** (3 * (e.clientX - box.left) / box.width));
            if (!band.shape.endsWith('pass')) {
                band.gainDb = this.#within('gainDb', (0.5 - (e.clientY - box.top) / box.height) * 2 * RANGE_DB);
            }
            band.on = true;
            this.#place(handle, band);
            follow(this.#dragged(i, band));
            player.preview(this.#fields(i, band));
        };
        const end = () => {
            handle.removeEventListener('pointermove', move);
            if (band.on !== this.#bands[i].on || band.hz !== this.#bands[i].hz || band.gainDb !== this.#bands[i].gainDb) {
                written(this.#dragged(i, band)).then((kept) => kept || change(this.#fields(i, band)));
            }
        };
        handle.addEventListener('pointermove', move);
        handle.addEventListener('pointerup', end, { once: true });
    }

    #key(event, i, handle) {
        const band = { ...this.#bands[i] };
        const steps = {
            ArrowLeft: () => { band.hz = this.#within('hz', band.hz / 1.06); },
            ArrowRight: () => { band.hz = this.#within('hz', band.hz * 1.06); },
            ArrowUp: () => { band.gainDb = this.#within('gainDb', band.gainDb + 0.5); },
            ArrowDown: () => { band.gainDb = this.#within('gainDb', band.gainDb - 0.5); },
            Enter: () => { band.on = !band.on; },
        };
        if (steps[event.key]) {
            event.preventDefault();
            steps[event.key]();
            band.on = event.key === 'Enter' ? band.on : true;
            this.#bands[i] = band;
            this.#keyed = i;
            this.#place(handle, band);
            change(this.#fields(i, band));
        }
    }

    #within(field, value) {
        const [least, most] = JSON.parse(this.dataset.ranges)[field];

        return Math.max(least, Math.min(most, value));
    }

    #fields(i, band) {
        return { type: 'set', under: `${this.dataset.under}/bands/${i + 1}`, shape: band.shape, hz: Math.round(band.hz * 10) / 10, gainDb: Math.round(band.gainDb * 10) / 10, q: band.q, on: band.on ? 1 : 0, slope: band.slope };
    }

    /** What a drag moves of a band, as far as it differs: what moves by itself stays as it is. */
    #dragged(i, band) {
        const { under, hz, gainDb } = this.#fields(i, band);

        return { type: 'set', under, ...(hz === this.#bands[i].hz ? {} : { hz }), ...(gainDb === this.#bands[i].gainDb ? {} : { gainDb }) };
    }

    /** Shape, numbers and switch of the chosen band. */
    #controls() {
        const place = document.querySelector('[data-eq-controls]');
        if (!place) {
            return;
        }
        this.#chosen = Math.min(this.#chosen, this.#bands.length - 1);
        const i = this.#chosen;
        const band = this.#bands[i];
        const send = (set) => change(this.#fields(i, { ...band, ...set }));
        const number = (label, value, step, set) => {
            const box = document.createElement('label');
            box.className = 'small';
            const input = document.createElement('input');
            input.type = 'number';
            input.step = step;
            input.value = value;
            input.className = 'text num';
            input.addEventListener('change', () => send(set(Number(input.value))));
            box.append(`${label} `, input);

            return box;
        };
        const on = document.createElement('button');
        on.className = 'toggle on';
        on.setAttribute('aria-pressed', String(band.on));
        on.textContent = band.on ? 'On' : 'Off';
        on.setAttribute('aria-label', `Band ${i + 1}`);
        on.addEventListener('click', () => send({ on: !band.on }));
        const hear = document.createElement('button');
        hear.className = 'btn slim';
        hear.textContent = 'Hear it';
        hear.title = 'While held: only what this band takes hold of';
        const hold = (event) => { event.preventDefault(); hear.setPointerCapture?.(event.pointerId); player.hear(`band/${this.dataset.line}/${this.dataset.insert}/${i + 1}`); };
        const letGo = () => player.hear('');
        hear.addEventListener('pointerdown', hold);
        hear.addEventListener('pointerup', letGo);
        hear.addEventListener('pointercancel', letGo);
        hear.addEventListener('keydown', (event) => { if (event.key === 'Enter' && !event.repeat) { player.hear(`band/${this.dataset.line}/${this.dataset.insert}/${i + 1}`); } });
        hear.addEventListener('keyup', (event) => { if (event.key === 'Enter') { letGo(); } });
        hear.addEventListener('blur', () => { if (player.hearing.startsWith('band/')) { letGo(); } });
        const shape = document.createElement('select');
        shape.className = 'choose';
        shape.setAttribute('aria-label', 'Shape of the band');
        for (const [id, name] of Object.entries(NAMES)) {
            shape.append(new Option(name, id, false, id === band.shape));
        }
        shape.addEventListener('change', () => send({ shape: shape.value, on: true }));
        const slope = document.createElement('select');
        slope.className = 'choose';
        slope.setAttribute('aria-label', 'How steeply it falls, an octave');
        slope.hidden = !band.shape.endsWith('pass');
        for (const steep of JSON.parse(this.dataset.slopes)) {
            slope.append(new Option(steep, steep, false, steep === band.slope));
        }
        slope.addEventListener('change', () => send({ slope: slope.value, on: true }));
        place.replaceChildren(on, shape, slope, number('Hz', Math.round(band.hz), 'any', (hz) => ({ hz })), number('dB', band.gainDb.toFixed(1), 'any', (gainDb) => ({ gainDb })), number('Q', band.q.toFixed(2), 'any', (q) => ({ q })));
        document.querySelector('[data-eq-hear]').replaceChildren(hear);
    }
}

customElements.define('pestle-eq', Eq);
