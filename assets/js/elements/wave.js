// A recording to work on: select, cut into slices, hear any part of it, with and without its edits.

import { change } from '../changes.js';
import { audition, hush } from '../audio/pads.js';
import { audio } from '../audio/context.js';
import { notice } from '../notice.js';
import { WaveData } from './wave-data.js';
import { MAP, TAB_WIDTH, WaveDrawing } from './wave-drawing.js';

class Wave extends HTMLElement {
    static observedAttributes = ['data-markers', 'data-sample', 'data-edits', 'data-frames'];

    #canvas = document.createElement('canvas');
    #view = { from: 0, to: 1, frames: 1, chosen: 0, cursor: 0, markers: [], roles: [], beats: [], selection: null, playing: null, before: false, data: null };
    #drawing = new WaveDrawing(this.#canvas, this.#view);
    #drag = null;
    #round = false;
    #shown = '';

    connectedCallback() {
        if (!this.shadowRoot) {
            this.attachShadow({ mode: 'open' }).append(this.#canvas);
            this.#canvas.style.cssText = 'width:100%;height:100%;display:block;border-radius:8px;touch-action:none';
            this.#canvas.addEventListener('pointerdown', (event) => this.#down(event));
            this.#canvas.addEventListener('pointermove', (event) => this.#move(event));
            this.#canvas.addEventListener('pointerup', (event) => this.#up(event));
            this.#canvas.addEventListener('dblclick', (event) => this.#add(Math.round(this.#frameAt(event))));
            this.#canvas.addEventListener('wheel', (event) => this.#wheel(event), { passive: false });
            this.addEventListener('keydown', (event) => this.#key(event));
        }
        this.#view.region = (index) => this.#region(index);
        this.watch = new ResizeObserver(() => this.#drawing.draw());
        this.watch.observe(this);
        this.redraw = () => this.#drawing.draw();
        this.tools = (event) => this.#tool(event.target.closest?.('[data-wave]')?.dataset.wave);
        this.typed = (event) => this.#typed(event.target);
        this.shown = () => this.#tell();
        document.addEventListener('pestle:page', this.shown);
        document.addEventListener('pestle:theme', this.redraw);
        document.addEventListener('click', this.tools);
        document.addEventListener('change', this.typed);
        this.#read();
    }

    disconnectedCallback() {
        this.watch.disconnect();
        document.removeEventListener('pestle:theme', this.redraw);
        document.removeEventListener('click', this.tools);
        document.removeEventListener('change', this.typed);
        document.removeEventListener('pestle:page', this.shown);
    }

    attributeChangedCallback() {
        // Several change at once when the page does.
        if (this.isConnected && !this.#drag) {
            clearTimeout(this.pending);
            this.pending = setTimeout(() => this.#read());
        }
    }

    get #rate() {
        return Number(this.dataset.rate);
    }

    /** The selection in frames of the recording as it is now, or null; what edits work on. */
    get selection() {
        return this.#view.selection;
    }

    /** Whether it shows the recording without its edits: places are then those of the source. */
    get before() {
        return this.#view.before;
    }

    /** Frame that was clicked last. */
    get cursor() {
        return this.#view.cursor;
    }

    #read() {
        const view = this.#view;
        const other = view.sample !== this.dataset.sample;
        view.sample = this.dataset.sample;
        const edits = view.before && this.dataset.edits ? '' : this.dataset.edits;
        view.frames = Number(view.before && this.dataset.edits ? this.dataset.sourceFrames : this.dataset.frames);
        if (other) {
            Object.assign(view, { chosen: 0, cursor: 0, selection: null, before: false });
        }
        if (other || `${edits}/${view.frames}` !== this.#shown) {
            [view.from, view.to] = [0, view.frames];
            view.data = new WaveData(view.sample, edits, () => this.#drawing.draw());
            this.#shown = `${edits}/${view.frames}`;
        }
        if (view.selection && view.selection[1] > view.frames) {
            view.selection = null;
        }
        view.markers = view.before ? [] : JSON.parse(this.dataset.markers);
        view.roles = JSON.parse(this.dataset.roles);
        view.beats = view.before ? [] : JSON.parse(this.dataset.beats);
        view.chosen = Math.min(view.chosen, Math.max(0, view.markers.length - 1));
        this.#drawing.draw();
        this.#tell();
    }

    #frameAt(event) {
        const box = this.#canvas.getBoundingClientRect();

        return Math.max(0, Math.min(this.#view.frames, this.#view.from + (event.clientX - box.left) / box.width * (this.#view.to - this.#view.from)));
    }

    #region(index) {
        return [this.#view.markers[index] ?? 0, this.#view.markers[index + 1] ?? this.#view.frames];
    }

    #down(event) {
        if (event.button !== 0) {
            return;
        }
        const view = this.#view;
        const box = this.#canvas.getBoundingClientRect();
        const [x, y] = [event.clientX - box.left, event.clientY - box.top];
        this.focus({ preventScroll: true });
        this.#canvas.setPointerCapture(event.pointerId);
        if (y < MAP) {
            this.#drag = { kind: 'map' };
            this.#scrollTo(x / box.width * view.frames);

            return;
        }
        const tab = y > this.#drawing.bottom
            ? view.markers.findLastIndex((m) => x >= this.#drawing.x(m) - 3 && x <= this.#drawing.x(m) + TAB_WIDTH)
            : view.markers.findIndex((m) => Math.abs(this.#drawing.x(m) - x) < 4);
        view.cursor = Math.round(this.#frameAt(event));
        if (tab >= 0 && !event.shiftKey) {
            this.#drag = { kind: 'marker', index: tab, x, y, before: [...view.markers] };
            view.chosen = tab;
        } else {
            const edge = view.selection?.findIndex((f) => Math.abs(this.#drawing.x(f) - x) < 6) ?? -1;
            const anchor = edge >= 0 ? view.selection[1 - edge] : (event.shiftKey && view.selection ? view.selection[0] : view.cursor);
            this.#drag = { kind: 'select', anchor, x, moved: edge >= 0 || event.shiftKey };
        }
        this.#drawing.draw();
        this.#tell();
    }

    #move(event) {
        const drag = this.#drag;
        if (!drag) {
            return;
        }
        const view = this.#view;
        const box = this.#canvas.getBoundingClientRect();
        const x = event.clientX - box.left;
        if (drag.kind === 'map') {
            this.#scrollTo(x / box.width * view.frames);
        } else if (drag.kind === 'select') {
            drag.moved = drag.moved || Math.abs(x - drag.x) > 4;
            if (drag.moved) {
                const at = Math.round(this.#frameAt(event));
                view.selection = at === drag.anchor ? null : [Math.min(at, drag.anchor), Math.max(at, drag.anchor)];
            }
        } else if (drag.moved || Math.hypot(x - drag.x, event.clientY - box.top - drag.y) > 3) {
            drag.moved = true;
            // Far below or above the wave means: take it out.
            const out = event.clientY > box.bottom + 30 || event.clientY < box.top - 30;
            const [low, high] = [(drag.before[drag.index - 1] ?? -1) + 1, (drag.before[drag.index + 1] ?? view.frames) - 1];
            view.markers = [...drag.before];
            view.markers[drag.index] = Math.round(Math.max(low, Math.min(high, this.#frameAt(event))));
            if (out) {
                view.markers.splice(drag.index, 1);
            }
        }
        this.#drawing.draw();
        this.#tell();
    }

    #up() {
        const drag = this.#drag;
        const view = this.#view;
        this.#drag = null;
        if (drag?.kind === 'marker') {
            if (drag.moved) {
                this.#store();
            } else {
                this.#play();
            }
        } else if (drag?.kind === 'select' && !drag.moved) {
            view.selection = null;
            view.chosen = Math.max(0, view.markers.findLastIndex((m) => m <= view.cursor));
            this.#play();
            this.dispatchEvent(new CustomEvent('pestle:slice', { bubbles: true, detail: view.chosen }));
            this.#drawing.draw();
            this.#tell();
        }
    }

    #store() {
        change({ type: 'set-slices', sample: this.dataset.sample, markers: this.#view.markers, how: 'hand' });
    }

    #add(frame) {
        const view = this.#view;
        if (!view.before && !view.markers.includes(frame)) {
            view.markers = [...view.markers, frame].sort((a, b) => a - b);
            view.chosen = view.markers.indexOf(frame);
            this.#store();
            this.#drawing.draw();
        }
    }

    #remove() {
        const view = this.#view;
        if (view.markers.length > 0) {
            view.markers = view.markers.filter((_, i) => i !== view.chosen);
            view.chosen = Math.max(0, view.chosen - 1);
            this.#store();
            this.#drawing.draw();
        }
    }

    /** A marker where it plays now, moved to the nearest hit if that is wished. */
    async #tap() {
        const view = this.#view;
        if (!view.playing) {
            this.#play(true);

            return;
        }
        let frame = Math.round(view.playing.frame);
        if (document.getElementById('tap-snaps')?.checked) {
            frame = await this.#snapped(frame, 'hit');
        }
        this.#add(frame);
    }

    async #snapped(at, to) {
        const response = await fetch(this.#view.data.url('snap', { at, to }));

        return response.ok ? (await response.json()).frame : at;
    }

    #play(whole = false) {
        const view = this.#view;

        return this.hear(...(whole || (!view.selection && view.markers.length === 0) ? [0, view.frames] : view.selection ?? this.#region(view.chosen)));
    }

    /** Plays from a frame to another and shows where it is. */
    async hear(start, end) {
        const view = this.#view;
        try {
            const voice = await audition(view.data.url('sound'), start / this.#rate, (end - start) / this.#rate, this.#round);
            view.playing = { voice, frame: start };
            const follow = () => {
                if (view.playing?.voice !== voice) {
                    return;
                }
                const passed = (audio().currentTime - voice.started) * this.#rate - start;
                const length = end - start;
                view.playing = voice.stopped || (passed >= length && !voice.round) ? null : { voice, frame: start + (voice.round ? passed % length : passed) };
                this.#drawing.draw();
                if (view.playing) {
                    requestAnimationFrame(follow);
                }
            };
            follow();
        } catch (problem) {
            notice(problem.message, { bad: true });
        }
    }

    #zoom(factor, around = (this.#view.from + this.#view.to) / 2) {
        const view = this.#view;
        const span = Math.max(32, Math.min(view.frames, (view.to - view.from) * factor));
        const part = (around - view.from) / (view.to - view.from);
        this.#show(around - part * span, span);
    }

    #scrollTo(centre) {
        const span = this.#view.to - this.#view.from;
        this.#show(centre - span / 2, span);
    }

    #show(from, span) {
        const view = this.#view;
        view.from = Math.max(0, Math.min(view.frames - span, from));
        view.to = view.from + span;
        this.#drawing.draw();
    }

    #wheel(event) {
        event.preventDefault();
        if (event.ctrlKey || Math.abs(event.deltaY) > Math.abs(event.deltaX)) {
            this.#zoom(1.15 ** Math.sign(event.deltaY), this.#frameAt(event));
        } else {
            const span = this.#view.to - this.#view.from;
            this.#show(this.#view.from + event.deltaX / 800 * span, span);
        }
    }

    #toSelection() {
        const [start, end] = this.#view.selection ?? this.#region(this.#view.chosen);
        const span = Math.max(32, (end - start) * 1.1);
        this.#show(start - (span - (end - start)) / 2, Math.min(span, this.#view.frames));
    }

    #select(selection) {
        this.#view.selection = selection && selection[1] > selection[0] ? selection : null;
        this.#drawing.draw();
        this.#tell();
    }

    #tool(tool) {
        ({
            'zoom-in': () => this.#zoom(0.5),
            'zoom-out': () => this.#zoom(2),
            whole: () => this.#show(0, this.#view.frames),
            'to-selection': () => this.#toSelection(),
            play: () => this.#play(),
            'play-all': () => this.#play(true),
            round: () => this.#goRound(),
            remove: () => this.#remove(),
            before: () => this.#before(),
            'select-slice': () => this.#select(this.#region(this.#view.chosen)),
            snap: async () => this.#select(this.#view.selection && await Promise.all(this.#view.selection.map((f) => this.#snapped(f, 'zero')))),
        })[tool]?.();
    }

    #goRound() {
        this.#round = !this.#round;
        document.querySelector('[data-wave=round]')?.setAttribute('aria-pressed', String(this.#round));
        if (this.#round) {
            this.#play();
        } else {
            hush();
        }
    }

    /** The recording without its edits, and back; what plays goes on with the other. */
    #before() {
        const view = this.#view;
        if (!this.dataset.edits) {
            return;
        }
        view.before = !view.before;
        view.selection = null;
        document.querySelector('[data-wave=before]')?.setAttribute('aria-pressed', String(view.before));
        const playing = view.playing !== null;
        this.#read();
        if (playing) {
            this.#play();
        }
    }

    #key(event) {
        const view = this.#view;
        const nudge = event.shiftKey ? 1 : Math.max(1, Math.round((view.to - view.from) / 200));
        const keys = {
            ArrowLeft: () => this.#choose(view.chosen - 1),
            ArrowRight: () => this.#choose(view.chosen + 1),
            ArrowUp: () => this.#zoom(0.5, view.cursor),
            ArrowDown: () => this.#zoom(2, view.cursor),
            Home: () => { view.cursor = Math.max(0, view.cursor - nudge); },
            End: () => { view.cursor = Math.min(view.frames - 1, view.cursor + nudge); },
            Escape: () => this.#select(null),
            v: () => this.#play(),
            g: () => this.#goRound(),
            b: () => this.#before(),
            t: () => this.#tap(),
            z: () => this.#toSelection(),
            x: () => (view.markers.includes(view.cursor) ? this.#remove() : this.#add(view.cursor)),
            Delete: () => this.#remove(),
        };
        const act = keys[event.key.length === 1 ? event.key.toLowerCase() : event.key];
        if (act && !event.ctrlKey && !event.metaKey) {
            event.preventDefault();
            act();
            this.#drawing.draw();
            this.#tell();
        }
    }

    #choose(index) {
        const view = this.#view;
        view.selection = null;
        view.chosen = Math.max(0, Math.min(view.markers.length - 1, index));
        view.cursor = this.#region(view.chosen)[0];
        if (view.cursor < view.from || view.cursor > view.to) {
            this.#scrollTo(view.cursor);
        }
    }

    /** Frames of one unit of the typed selection. */
    #unit() {
        const unit = document.querySelector('[data-selection=unit]')?.value;

        return { beats: this.#rate * 60 / Number(this.dataset.bpm || 120), samples: 1 }[unit] ?? this.#rate;
    }

    #typed(field) {
        const which = field.dataset?.selection;
        if (!which) {
            return;
        }
        const value = Number(field.value) * this.#unit();
        const [start, end] = this.#view.selection ?? [0, this.#view.frames];
        const within = (f) => Math.round(Math.max(0, Math.min(this.#view.frames, f)));
        ({
            start: () => this.#select([within(value), end]),
            end: () => this.#select([start, within(value)]),
            length: () => this.#select([start, within(start + value)]),
            unit: () => this.#tell(),
        })[which]();
    }

    #tell() {
        const view = this.#view;
        const label = document.getElementById('slice-info');
        if (!label) {
            return;
        }
        const count = view.markers.length;
        label.textContent = view.selection ? 'Selection' : (count === 0 ? 'No slices yet' : `Slice ${view.chosen + 1} of ${count}`);
        const [start, end] = view.selection ?? (count > 0 ? this.#region(view.chosen) : [0, view.frames]);
        const unit = this.#unit();
        for (const [name, frames] of Object.entries({ start, end, length: end - start })) {
            const field = document.querySelector(`[data-selection=${name}]`);
            if (field && field !== document.activeElement) {
                field.value = unit === 1 ? frames : (frames / unit).toFixed(3);
            }
        }
        for (const button of document.querySelectorAll('[data-needs-selection]')) {
            button.disabled = view.selection === null;
        }
    }
}

customElements.define('pestle-wave', Wave);
