// A recording to work on: select, cut into slices, set its beat grid, hear any part of it, with and without its edits.

import { patiently } from '../patient.js';
import { change } from '../changes.js';
import { WaveData } from '../wave/data.js';
import { WaveDrawing } from '../wave/drawing.js';
import { WavePlaying } from '../wave/playing.js';
import { WavePointer } from '../wave/pointer.js';
import { tellSelection, typedSelection } from '../wave/selection.js';

const SNAP_PIXELS = 14;

class Wave extends HTMLElement {
    static observedAttributes = ['data-markers', 'data-ends', 'data-heard-as', 'data-sample', 'data-edits', 'data-frames', 'data-mode', 'data-beats', 'data-held'];

    #canvas = document.createElement('canvas');
    #view = { notes: [], from: 0, to: 1, frames: 1, chosen: 0, cursor: 0, markers: [], ends: [], roles: [], beats: [], first: 0, held: {}, line: null, selection: null, playing: null, before: false, mode: 'slices', data: null };
    #drawing = new WaveDrawing(this.#canvas, this.#view);
    #playing = new WavePlaying(this.#view, () => this.#drawing.draw());
    #pointer = null;
    #shown = '';
    #missed = false;

    connectedCallback() {
        if (!this.shadowRoot) {
            this.attachShadow({ mode: 'open' }).append(this.#canvas);
            this.#canvas.style.cssText = 'width:100%;height:100%;display:block;border-radius:8px;touch-action:none';
            this.#pointer = new WavePointer(this.#canvas, this.#view, this.#drawing, this.#acts());
            this.addEventListener('keydown', (event) => this.#key(event));
        }
        this.#view.region = (index) => this.#region(index);
        this.watch = new ResizeObserver(() => this.#drawing.draw());
        this.watch.observe(this);
        this.gone = new AbortController();
        const { signal } = this.gone;
        document.addEventListener('pestle:page', () => this.#tell(), { signal });
        document.addEventListener('pestle:theme', () => this.#drawing.draw(), { signal });
        document.addEventListener('click', (event) => this.#tool(event.target.closest?.('[data-wave]')?.dataset.wave), { signal });
        document.addEventListener('change', (event) => this.#typed(event.target), { signal });
        this.#read();
    }

    /** Notes over the wave: first frame, end, pitch, velocity, how sure, and whether it is taken. */
    showNotes(notes) {
        this.#view.notes = notes;
        this.#drawing.draw();
    }

    disconnectedCallback() {
        this.watch.disconnect();
        this.gone.abort();
    }

    attributeChangedCallback() {
        // Several change at once when the page does; what is being dragged is not pulled from the hand.
        if (this.isConnected) {
            clearTimeout(this.pending);
            this.pending = setTimeout(() => {
                this.#missed = Boolean(this.#pointer?.drag);
                if (!this.#missed) {
                    this.#read();
                }
            });
        }
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

    /** Which slice is chosen, from 0. */
    get slice() {
        return this.#view.chosen;
    }

    /** Where something about the recording as it is now is asked for. */
    url(what, parameters) {
        return this.#view.data.url(what, parameters);
    }

    /** Number of the chosen line of the beat grid, or null. */
    get line() {
        return this.#view.line;
    }

    /** Where that line is, in frames. */
    get lineFrame() {
        return this.#view.line === null ? null : this.#view.beats[this.#view.line - this.#view.first] ?? null;
    }

    #read() {
        const view = this.#view;
        const other = view.sample !== this.dataset.sample;
        if (other || view.mode !== this.dataset.mode) {
            Object.assign(view, { selection: null, before: false, line: null }, other ? { chosen: 0, cursor: 0 } : {});
        }
        Object.assign(view, { sample: this.dataset.sample, mode: this.dataset.mode, rate: Number(this.dataset.rate), bpm: Number(this.dataset.bpm), first: Number(this.dataset.first), bar: Number(this.dataset.bar), held: JSON.parse(this.dataset.held) });
        const edits = view.before && this.dataset.edits ? '' : this.dataset.edits;
        view.frames = Number(view.before && this.dataset.edits ? this.dataset.sourceFrames : this.dataset.frames);
        if (`${view.sample}/${edits}/${view.frames}` !== this.#shown) {
            [view.from, view.to] = [0, view.frames];
            view.data = new WaveData(view.sample, edits, view.frames, () => {
                this.dataset.progress = view.data.progress ?? '';
                this.#drawing.draw();
            });
            this.#shown = `${view.sample}/${edits}/${view.frames}`;
        }
        if (view.selection && view.selection[1] > view.frames) {
            view.selection = null;
        }
        view.markers = view.before ? [] : JSON.parse(this.dataset.markers);
        view.ends = JSON.parse(this.dataset.ends);
        view.heardAs = JSON.parse(this.dataset.heardAs);
        view.roles = JSON.parse(this.dataset.roles);
        view.beats = view.before ? [] : JSON.parse(this.dataset.beats);
        view.chosen = Math.min(view.chosen, Math.max(0, view.markers.length - 1));
        this.#changed();
    }

    #changed() {
        this.#drawing.draw();
        this.#tell();
    }

    #region(index) {
        const view = this.#view;

        return [view.markers[index] ?? 0, Math.min(view.frames, view.ends[index] ?? view.markers[index + 1] ?? view.frames)];
    }

    /** What the pointer's drags and clicks come to. */
    #acts() {
        const view = this.#view;

        return {
            changed: () => this.#changed(),
            play: () => this.#play(),
            cut: (frame) => this.#add(frame),
            marker: (from, to) => this.#settle(from, to),
            end: (end) => this.#say('pestle:slice-end', { slice: view.chosen, end }),
            line: (beat, frame, spread) => this.#say('pestle:line', { beat, seconds: frame / view.rate, spread }),
            released: () => {
                if (this.#missed) {
                    this.#missed = false;
                    this.#read();
                }
            },
            clicked: () => {
                this.#play();
                this.#say('pestle:slice', view.chosen);
            },
            show: (from, span) => this.#show(from, span),
            scrollTo: (centre) => this.#scrollTo(centre),
            zoom: (factor, around) => this.#zoom(factor, around),
        };
    }

    #say(name, detail) {
        this.dispatchEvent(new CustomEvent(name, { bubbles: true, detail }));
    }

    /** Takes markers out and puts others in, among those there are when its turn has come. */
    #store(out, into) {
        const { sample, markers } = this.dataset;
        change(() => {
            const now = JSON.parse(this.dataset.sample === sample ? this.dataset.markers : markers);
            const next = new Set([...now.filter((m) => !out.includes(m)), ...into]);

            return { type: 'set-slices', sample, markers: [...next].sort((a, b) => a - b), how: 'hand' };
        });
    }

    async #add(frame, tapped = false) {
        const view = this.#view;
        if (view.mode === 'grid' || view.before) {
            return;
        }
        const place = await this.#attracted(frame, tapped);
        view.cursor = place;
        if (!view.markers.includes(place)) {
            view.markers = [...view.markers, place].sort((a, b) => a - b);
            view.chosen = view.markers.indexOf(place);
            this.#store([], [place]);
            this.#drawing.draw();
        }
    }

    /** A marker that was dragged to its place, or away. */
    async #settle(from, to) {
        if (to === null) {
            this.#store([from], []);

            return;
        }
        const view = this.#view;
        const place = await this.#attracted(to);
        view.markers = view.markers.map((m) => (m === to ? place : m));
        this.#store([from], [place]);
    }

    /** Where a marker lands: at what it is to snap to, when that is near; a tap from any distance. */
    async #attracted(frame, tapped = false) {
        const to = document.getElementById('cut-snaps')?.value;
        const place = to ? await this.#snapped(frame, to) : frame;

        return tapped || Math.abs(this.#drawing.x(place) - this.#drawing.x(frame)) < SNAP_PIXELS ? place : frame;
    }

    #remove() {
        const view = this.#view;
        if (view.markers.length > 0) {
            const gone = view.markers[view.chosen];
            view.markers = view.markers.filter((m) => m !== gone);
            view.chosen = Math.max(0, view.chosen - 1);
            this.#store([gone], []);
            this.#drawing.draw();
        }
    }

    /** A marker at what is heard; the first tap plays. */
    #tap(moment) {
        const frame = this.#playing.frameAt(moment);
        if (frame !== null) {
            this.#add(frame, true);
        } else if (!this.#view.playing && !this.#playing.begins) {
            this.#play(true);
        }
    }

    async #snapped(at, to) {
        const response = await patiently(this.#view.data.url('snap', { at, to }));

        return response.ok ? (await response.json()).frame : at;
    }

    #play(whole = false) {
        const view = this.#view;

        if (!whole && !view.selection && view.markers.length > 0) {
            return this.hearSlice(view.chosen);
        }

        return this.hear(...(whole || !view.selection ? [0, view.frames] : view.selection));
    }

    /** Plays a slice as its pad would: backwards and at its level, where that is said of it. */
    hearSlice(index) {
        this.#view.clicks = false;

        return this.#playing.hear(...this.#region(index), this.#view.heardAs[index] ?? []);
    }

    /** Plays from a frame to another and shows where it is. */
    hear(start, end) {
        this.#view.clicks = this.#view.mode === 'grid' && document.getElementById('grid-clicks')?.checked;

        return this.#playing.hear(start, end);
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

    #toSelection() {
        const [start, end] = this.#view.selection ?? this.#region(this.#view.chosen);
        const span = Math.max(32, (end - start) * 1.1);
        this.#show(start - (span - (end - start)) / 2, Math.min(span, this.#view.frames));
    }

    #select(selection) {
        this.#view.selection = selection && selection[1] > selection[0] ? selection : null;
        this.#changed();
    }

    #tool(tool) {
        ({
            'zoom-in': () => this.#zoom(0.5),
            'zoom-out': () => this.#zoom(2),
            whole: () => this.#show(0, this.#view.frames),
            'to-selection': () => this.#toSelection(),
            play: () => this.#play(),
            'play-all': () => this.#play(true),
            round: () => this.#playing.goRound(() => this.#play()),
            remove: () => this.#remove(),
            before: () => this.#before(),
            'select-slice': () => this.#select(this.#region(this.#view.chosen)),
            snap: async () => this.#select(this.#view.selection && await Promise.all(this.#view.selection.map((f) => this.#snapped(f, 'zero')))),
        })[tool]?.();
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
            ArrowLeft: () => this.#choose(-1),
            ArrowRight: () => this.#choose(1),
            ArrowUp: () => this.#zoom(0.5, view.cursor),
            ArrowDown: () => this.#zoom(2, view.cursor),
            Home: () => { view.cursor = Math.max(0, view.cursor - nudge); },
            End: () => { view.cursor = Math.min(view.frames - 1, view.cursor + nudge); },
            Escape: () => this.#select(null),
            v: () => this.#play(),
            g: () => this.#playing.goRound(() => this.#play()),
            b: () => this.#before(),
            t: () => (view.mode === 'grid' ? this.#say('pestle:tap') : this.#tap(event.timeStamp)),
            z: () => this.#toSelection(),
            x: () => (view.markers.includes(view.cursor) ? this.#remove() : this.#add(view.cursor)),
            Delete: () => (view.mode === 'grid' ? this.#say('pestle:let-go') : this.#remove()),
            ...(view.mode === 'grid' ? { Comma: () => this.#nudgeLine(event.shiftKey ? -0.01 : -0.001), Period: () => this.#nudgeLine(event.shiftKey ? 0.01 : 0.001) } : {}),
        };
        const act = keys[event.code] ?? keys[event.key.length === 1 ? event.key.toLowerCase() : event.key];
        if (act && !event.ctrlKey && !event.metaKey) {
            event.preventDefault();
            act();
            this.#changed();
        }
    }

    #nudgeLine(by) {
        if (this.lineFrame !== null) {
            this.#say('pestle:line', { beat: this.#view.line, seconds: this.lineFrame / this.#view.rate + by, spread: false });
        }
    }

    /** The next slice or line, or the one before. */
    #choose(step) {
        const view = this.#view;
        view.selection = null;
        if (view.mode === 'grid') {
            const last = view.first + view.beats.length - 1;
            view.line = view.line === null ? Math.max(view.first, 0) : Math.max(view.first, Math.min(last, view.line + step));
            view.cursor = this.lineFrame ?? 0;
        } else {
            view.chosen = Math.max(0, Math.min(view.markers.length - 1, view.chosen + step));
            view.cursor = this.#region(view.chosen)[0];
            this.#say('pestle:chosen');
        }
        if (view.cursor < view.from || view.cursor > view.to) {
            this.#scrollTo(view.cursor);
        }
    }

    #typed(field) {
        const selection = typedSelection(field, this.#view);
        if (selection) {
            this.#select(selection);
        } else if (field.dataset?.selection) {
            this.#tell();
        }
    }

    #tell() {
        tellSelection(this.#view);
        this.#say('pestle:chosen');
    }
}

customElements.define('pestle-wave', Wave);
