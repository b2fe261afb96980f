// The note view: notes drawn, moved, lengthened from both ends, chosen by frame, heard. A gesture is one change.

import { onFrame } from '../frames.js';
import { change } from '../changes.js';
import { rowsOf } from '../held.js';
import { again, goTo, page } from '../page.js';
import { player } from '../audio/player.js';
import { HEAD, NAMES, noteName, NotesDrawing, SEEDS } from '../notes/drawing.js';
import { NotesGestures } from '../notes/gestures.js';
import { NotesKeyboard } from '../notes/keyboard.js';
import { NotesPointer } from '../notes/pointer.js';

/** Ticks between the notes of a chord that is strummed. */
const STRUM = 30;

class Notes extends HTMLElement {
    static observedAttributes = ['data-list-hash', 'data-ticks', 'data-bar', 'data-beat', 'data-pattern', 'data-section', 'data-scale', 'data-root', 'data-others-hash', 'data-felt-hash', 'data-swing', 'data-swing-on'];

    #canvas = document.createElement('canvas');
    #live = document.createElement('div');
    #view = { notes: [], chosen: new Set(), cursor: { tick: 0, pitch: 60 }, scale: [], root: -1, home: [], others: [], felt: new Map(), swing: 50, swingOn: 240, section: '', ticks: 3840, bar: 3840, beat: 960, grid: 240, rows: [], left: 0, top: 0, wide: 0, tall: 15, frame: null };
    #drawing = new NotesDrawing(this, this.#canvas, this.#view);
    #gestures = new NotesGestures(this, this.#view, this.#drawing);
    #pointer = new NotesPointer(this, this.#canvas, this.#view, this.#drawing, this.#gestures);
    #keyboard = new NotesKeyboard(this.#view, this.#drawing, this.#gestures, this.#pointer, () => this.#seek(), () => this.#say());
    #due = false;
    #missed = false;
    #pattern = null;

    connectedCallback() {
        if (!this.shadowRoot) {
            const root = this.attachShadow({ mode: 'open' });
            this.#canvas.style.cssText = 'display:block;position:absolute;inset:0;touch-action:none';
            this.#live.setAttribute('aria-live', 'polite');
            this.#live.style.cssText = 'position:absolute;width:1px;height:1px;overflow:hidden;clip-path:inset(50%)';
            root.append(this.#canvas, this.#live);
            this.addEventListener('keydown', (event) => this.#keyboard.key(event));
            this.addEventListener('focus', () => this.#drawing.draw());
            this.addEventListener('blur', () => this.#drawing.draw());
        }
        this.watch = new ResizeObserver(() => this.#drawing.draw());
        this.watch.observe(this);
        this.listen = new AbortController();
        const { signal } = this.listen;
        document.addEventListener('pestle:theme', () => this.#drawing.draw(), { signal });
        // What is asked for anew may say no more than what was known: nothing of this element changes then.
        document.addEventListener('pestle:page', () => this.#missed && this.#read(), { signal });
        document.addEventListener('change', ({ target }) => /^notes-(grid|rows)$/.test(target.id ?? '') && this.#read(), { signal });
        document.addEventListener('click', (event) => this.#press(event), { signal });
        document.addEventListener('change', ({ target }) => 'notesShape' in (target.dataset ?? {}) && this.#shape(target), { signal });
        this.stop = onFrame(() => {
            if (player.playing) {
                this.#follow();
                this.#drawing.paint();
            }
        });
        this.#read();
    }

    disconnectedCallback() {
        this.watch.disconnect();
        this.listen.abort();
        this.stop();
    }

    attributeChangedCallback() {
        if (this.isConnected && !this.#due) {
            this.#due = true;
            queueMicrotask(() => { this.#due = false; this.#read(); });
        }
    }

    #read() {
        const [view, data] = [this.#view, this.dataset];
        const [list, others, felt] = [rowsOf(this, 'list'), rowsOf(this, 'others'), rowsOf(this, 'felt')];
        this.#missed = list === null || others === null || felt === null;
        if (this.#missed) {
            again();

            return;
        }
        const kept = new Set([...view.chosen].map((n) => `${n.tick} ${n.pitch}`));
        Object.assign(view, {
            section: data.section, ticks: Number(data.ticks), bar: Number(data.bar), beat: Number(data.beat),
            scale: JSON.parse(data.scale), root: Number(data.root), home: JSON.parse(data.home), others,
            grid: Number(document.getElementById('notes-grid')?.value ?? 240),
            notes: list.map(([tick, pitch, velocity, length, chance, fine = 0, fineLength = 0, group = '', thrown = null]) => ({ tick, pitch, velocity, length, chance, fine, fineLength, group, thrown })),
            felt: new Map(felt.map(([tick, pitch, heard, velocity]) => [`${tick} ${pitch}`, { tick: heard, velocity }])),
            swing: Number(data.swing), swingOn: Number(data.swingOn), rules: page()?.rules,
        });
        view.chosen = new Set(this.#pattern === data.pattern ? view.notes.filter((n) => kept.has(`${n.tick} ${n.pitch}`)) : []);
        view.rows = this.#rows();
        if (this.#pattern !== data.pattern) {
            this.#pattern = data.pattern;
            view.left = 0;
            view.wide = Math.max(0.02, (this.clientWidth - NAMES - 8) / Math.min(view.ticks, 4 * view.bar));
            this.#showPitch(view.notes.length ? view.notes.reduce((sum, n) => sum + n.pitch, 0) / view.notes.length : 60);
            view.cursor = { tick: 0, pitch: this.#nearest(view.notes[0]?.pitch ?? 60) };
        }
        view.top = Math.max(0, Math.min(view.top, view.rows.length - 4));
        this.#drawing.draw();
    }

    /** Pitches that have a row, from the highest down. */
    #rows() {
        const which = document.getElementById('notes-rows')?.value ?? 'all';
        const used = new Set(this.#view.notes.map((n) => n.pitch));
        const all = Array.from({ length: 128 }, (_, i) => 127 - i);
        if (which === 'used' && used.size > 0) {
            return all.filter((pitch) => used.has(pitch));
        }

        return which === 'scale' && this.#view.scale.length > 0 ? all.filter((pitch) => this.#view.scale.includes(pitch % 12) || used.has(pitch)) : all;
    }

    #nearest(pitch) {
        return this.#view.rows.reduce((best, row) => (Math.abs(row - pitch) < Math.abs(best - pitch) ? row : best), this.#view.rows[0]);
    }

    #showPitch(pitch) {
        const seen = (this.clientHeight - HEAD - SEEDS) / this.#view.tall;
        this.#view.top = Math.max(0, Math.min(this.#view.rows.length - seen, this.#view.rows.indexOf(this.#nearest(Math.round(pitch))) - seen / 2));
    }

    #follow() {
        const wished = document.getElementById('notes-follow')?.checked;
        if (wished && !this.#pointer.isDragging && player.what === 'loop' && player.loop?.section === this.#view.section) {
            const tick = player.ticks() % this.#view.ticks;
            const seen = (this.clientWidth - NAMES) / this.#view.wide;
            if (tick < this.#view.left || tick > this.#view.left + seen) {
                this.#view.left = seen >= this.#view.ticks ? 0 : Math.floor(tick / this.#view.bar) * this.#view.bar;
            }
        }
    }

    #press(event) {
        const what = event.target.closest?.('[data-notes-do]')?.dataset.notesDo;
        const by = { up: (p) => p + 1, down: (p) => p - 1, 'octave-up': (p) => p + 12, 'octave-down': (p) => p - 12, 'scale-up': (p) => this.#gestures.inScale(p, 1), 'scale-down': (p) => this.#gestures.inScale(p, -1) };
        if (what) {
            if (this.#view.chosen.size === 0) {
                this.#view.chosen = new Set(this.#view.notes);
            }
            this.#gestures.shift('transpose', 0, by[what]);
        }
    }

    /** Something is done with the chosen notes, or with all. */
    async #apart() {
        const group = this.dataset.apart;
        if (await change({ type: 'feel-apart', pattern: this.dataset.pattern, notes: [...this.#view.chosen].map((n) => [n.tick, n.pitch]), group })) {
            const url = new URL(location.href);
            url.searchParams.set('lane', group);
            goTo(url.pathname + url.search);
        }
    }

    #shape(select) {
        const [how, chord] = select.value.split(' ');
        if (how === '') {
            return;
        }
        if (how === 'apart') {
            select.value = '';
            this.#apart();

            return;
        }
        const grid = { strum: STRUM, 'strum-down': -STRUM }[how] ?? Math.max(60, this.#view.grid);
        change({
            type: 'shape-notes', pattern: this.dataset.pattern, notes: [...this.#view.chosen].map((n) => [n.tick, n.pitch]), grid,
            ...(how === 'chord' ? { chord } : { how: how.replace('-down', '') }),
        });
        select.value = '';
    }

    /** Brings the cursor into sight. */
    #seek() {
        const { cursor, rows, top, tall } = this.#view;
        const seen = (this.clientHeight - HEAD - SEEDS) / tall;
        const row = rows.indexOf(cursor.pitch);
        if (row < top || row > top + seen - 1) {
            this.#showPitch(cursor.pitch);
        }
    }

    #say() {
        const { chosen, cursor, bar, beat } = this.#view;
        const place = (tick) => `${Math.floor(tick / bar) + 1}.${Math.floor(tick % bar / beat) + 1}`;
        this.#live.textContent = chosen.size > 0 ? `${chosen.size} ${chosen.size === 1 ? 'note' : 'notes'} chosen` : `${noteName(cursor.pitch)}, ${place(cursor.tick)}`;
    }
}

customElements.define('pestle-notes', Notes);
