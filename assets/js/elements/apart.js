// A recording taken apart: its four parts drawn as they come, heard in any mix, and what is said about how far it is.

import { drawParts } from '../apart/drawing.js';
import { ApartPlaying, PARTS } from '../apart/playing.js';
import { change } from '../changes.js';
import { onFrame } from '../frames.js';
import { notice } from '../notice.js';
import { app, goTo } from '../page.js';
import { write } from '../write.js';

const ASK_EVERY_MS = 700;
const STEP_SECONDS = 5;
const clock = (seconds) => `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`;

class Apart extends HTMLElement {
    static observedAttributes = ['data-sample', 'data-state', 'data-done', 'data-treated'];

    #canvas = document.createElement('canvas');
    #view = { frames: 1, done: 0, count: 1, outlines: {}, on: Object.fromEntries(PARTS.map((part) => [part, true])), frame: null, cursor: 0 };
    #playing = new ApartPlaying((part, frame, frames) => this.#address(part, frame, frames), { rate: 1, done: 0, on: this.#view.on });
    #sample = '';
    #timer = null;
    #since = null;
    #drawn = '';

    connectedCallback() {
        if (!this.shadowRoot) {
            this.attachShadow({ mode: 'open' }).append(this.#canvas);
            this.#canvas.style.cssText = 'width:100%;height:100%;display:block;border-radius:8px';
            this.#canvas.addEventListener('pointerdown', (event) => this.#goTo(event.offsetX / this.#canvas.clientWidth * this.#view.frames));
            this.addEventListener('keydown', (event) => this.#key(event));
        }
        this.watch = new ResizeObserver(() => this.#draw(true));
        this.watch.observe(this);
        this.gone = new AbortController();
        const { signal } = this.gone;
        document.addEventListener('pestle:theme', () => this.#draw(true), { signal });
        document.addEventListener('pestle:page', () => this.#showSwitches(), { signal });
        document.addEventListener('click', (event) => this.#press(event.target.closest?.('[data-apart], [data-apart-do]')), { signal });
        document.addEventListener('change', ({ target }) => {
            if (target.dataset?.apartPart) {
                this.#switch(target.dataset.apartPart, target.checked);
            }
        }, { signal });
        this.unframe = onFrame(() => {
            this.#view.frame = this.#playing.frame;
            this.#draw();
            const button = document.querySelector('[data-apart=hear]');
            if (button) {
                write(button, this.#view.frame === null ? 'Hear' : 'Stop');
            }
        });
        this.#read();
    }

    disconnectedCallback() {
        this.watch.disconnect();
        this.gone.abort();
        this.unframe();
        clearTimeout(this.#timer);
        this.#playing.stop();
    }

    attributeChangedCallback() {
        if (this.isConnected) {
            clearTimeout(this.pending);
            this.pending = setTimeout(() => this.#read());
        }
    }

    /** Which parts are on, and what is heard of each: for those who look from outside. */
    get heard() {
        return { on: { ...this.#view.on }, levels: this.#playing.levels, frame: this.#playing.frame };
    }

    #address(part, frame, frames) {
        const treated = JSON.parse(this.dataset.treated)[part];
        const query = new URLSearchParams({ from: Math.round(frame), ...(frames < 10 * this.#playing.state.rate ? { frames } : {}), ...(treated ? { treated } : {}), of: this.dataset.state === 'done' ? 'samples' : 'files' });

        return `/samples/${this.#sample}/apart/sound/${part}?${query}`;
    }

    #read() {
        const { sample, frames, rate, done, state } = this.dataset;
        const view = this.#view;
        if (sample !== this.#sample) {
            this.#playing.stop();
            this.#sample = sample;
            Object.assign(view, { cursor: 0, frame: null, outlines: Object.fromEntries(PARTS.map((part) => [part, new Uint8Array()])) });
            PARTS.forEach((part) => { view.on[part] = true; });
        }
        Object.assign(this.#playing.state, { rate: Number(rate), done: Number(done) });
        Object.assign(view, { frames: Number(frames), done: Number(done) });
        this.#showSwitches();
        this.#fetchOutline();
        clearTimeout(this.#timer);
        if (state === 'works' || state === 'waits') {
            this.#since ??= { at: performance.now(), done: view.done };
            this.#timer = setTimeout(() => this.#ask(), ASK_EVERY_MS);
        } else {
            this.#since = null;
        }
        this.#draw(true);
    }

    async #fetchOutline() {
        const { outlines } = this.#view;
        const known = outlines.drums.length;
        const sample = this.#sample;
        const response = this.#view.done > 0 ? await fetch(`/samples/${sample}/apart/outline?from=${known}`).catch(() => null) : null;
        if (!response?.ok || sample !== this.#sample || known !== outlines.drums.length) {
            return;
        }
        const bytes = new Uint8Array(await response.arrayBuffer());
        const each = bytes.length / PARTS.length;
        if (sample === this.#sample && known === outlines.drums.length && each > 0) {
            PARTS.forEach((part, i) => {
                const all = new Uint8Array(known + each);
                all.set(outlines[part]);
                all.set(bytes.subarray(i * each, (i + 1) * each), known);
                outlines[part] = all;
            });
            this.#view.count = Math.max(known + each, Math.round((known + each) * this.#view.frames / this.#view.done));
            this.#draw(true);
        }
    }

    /** How far it is by now; when that is another state, the page is asked for anew. */
    async #ask() {
        const sample = this.#sample;
        const now = await fetch(`/samples/${sample}/apart`).then((response) => (response.ok ? response.json() : null), () => null);
        if (sample !== this.#sample || !this.isConnected) {
            return;
        }
        if (now && now.state !== this.dataset.state && !(now.state === 'works' && this.dataset.state === 'waits' && now.done === 0)) {
            await goTo(location.pathname + location.search);
        }
        if (now && now.done > this.#view.done) {
            Object.assign(this.#view, { done: now.done });
            this.#playing.state.done = now.done;
            this.#say(now);
            await this.#fetchOutline();
        }
        clearTimeout(this.#timer);
        if (this.isConnected && ['works', 'waits'].includes(this.dataset.state)) {
            this.#timer = setTimeout(() => this.#ask(), ASK_EVERY_MS);
        }
    }

    #say({ done, frames }) {
        const { rate } = this.#playing.state;
        const pace = this.#since && done > this.#since.done ? (performance.now() - this.#since.at) / (done - this.#since.done) : null;
        const left = pace === null ? '' : `, ${Math.max(1, Math.round(pace * (frames - done) / 1000))} s to go`;
        document.getElementById('apart-said').innerHTML = `<strong>${clock(done / rate)} of ${clock(frames / rate)} taken apart</strong>${left}. What is done can be heard and switched already.`;
        document.querySelectorAll('[data-apart-part]').forEach((input) => { input.disabled = false; });
    }

    #draw(anew = false) {
        const looks = `${this.#view.frame} ${this.#view.cursor}`;
        if (anew || looks !== this.#drawn) {
            this.#drawn = looks;
            drawParts(this.#canvas, this.#view);
        }
    }

    #showSwitches() {
        for (const input of document.querySelectorAll('[data-apart-part]')) {
            input.checked = this.#view.on[input.dataset.apartPart];
        }
    }

    #switch(part, on) {
        this.#view.on[part] = on;
        this.#playing.switch();
        this.#showSwitches();
        this.#draw(true);
    }

    #goTo(frame) {
        this.focus();
        this.#view.cursor = Math.max(0, Math.min(this.#view.frames - 1, Math.round(frame)));
        if (this.#playing.frame !== null) {
            this.#play();
        }
        this.#draw(true);
    }

    async #play() {
        try {
            await this.#playing.play(this.#view.cursor < this.#view.done ? this.#view.cursor : 0);
        } catch (problem) {
            this.#playing.stop();
            notice(problem.message, { bad: true });
        }
    }

    #hear() {
        this.#playing.frame === null ? this.#play() : this.#playing.stop();
    }

    #key(event) {
        const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
        if (event.ctrlKey || event.metaKey || event.altKey) {
            return;
        }
        if (event.key.toLowerCase() === 'v') {
            this.#hear();
        } else if (step) {
            this.#goTo(this.#view.cursor + step * STEP_SECONDS * this.#playing.state.rate);
        } else if (PARTS[event.key - 1]) {
            this.#switch(PARTS[event.key - 1], !this.#view.on[PARTS[event.key - 1]]);
        } else {
            return;
        }
        event.preventDefault();
        event.stopPropagation();
    }

    async #press(button) {
        if (!button) {
            return;
        }
        const { apart, apartDo, then } = button.dataset;
        if (apart === 'hear') {
            this.#hear();
        } else if (apart) {
            await this.#send(apart);
        } else {
            if ('onlyVoice' in button.dataset) {
                PARTS.forEach((part) => { this.#view.on[part] = part === 'voice'; });
                this.#playing.switch();
                this.#showSwitches();
            }
            if (await change(JSON.parse(apartDo)) && then) {
                await goTo(then);
            }
        }
    }

    /** Begins, gives up or throws away, and shows what has come of it. */
    async #send(what) {
        const method = what === 'begin' ? 'POST' : 'DELETE';
        const response = await fetch(`/samples/${this.#sample}/apart${what === 'give-up' ? '/job' : ''}`, { method, headers: { 'X-Pestle-Token': app().dataset.token } }).catch(() => null);
        if (!response?.ok) {
            const said = await response?.json().catch(() => null);
            notice(said?.error ?? 'This could not be done. Is Pestle still running?', { bad: true });

            return;
        }
        document.dispatchEvent(new Event('pestle:work'));
        await goTo(location.pathname + location.search);
    }
}

customElements.define('pestle-apart', Apart);
