// The note view: notes drawn, moved, lengthened from both ends, chosen by frame, heard. A gesture is one change.

import { change } from '../changes.js';
import { rowsOf } from '../held.js';
import { again } from '../page.js';
import { player } from '../audio/player.js';
import { strikeNote } from '../dock.js';
import { HEAD, NAMES, noteName, NotesDrawing, SEEDS } from '../notes/drawing.js';

const EDGE = 6;
let clipboard = [];

class Notes extends HTMLElement {
    static observedAttributes = ['data-list-hash', 'data-ticks', 'data-bar', 'data-beat', 'data-pattern', 'data-section', 'data-scale', 'data-root', 'data-others-hash'];

    #canvas = document.createElement('canvas');
    #live = document.createElement('div');
    #view = { notes: [], chosen: new Set(), cursor: { tick: 0, pitch: 60 }, scale: [], root: -1, home: [], others: [], section: '', ticks: 3840, bar: 3840, beat: 960, grid: 240, rows: [], left: 0, top: 0, wide: 0, tall: 15, frame: null };
    #drawing = new NotesDrawing(this, this.#canvas, this.#view);
    #drag = null;
    #length = 240;
    #velocity = 100;
    #due = false;
    #pattern = null;

    connectedCallback() {
        if (!this.shadowRoot) {
            const root = this.attachShadow({ mode: 'open' });
            this.#canvas.style.cssText = 'display:block;position:absolute;inset:0;touch-action:none';
            this.#live.setAttribute('aria-live', 'polite');
            this.#live.style.cssText = 'position:absolute;width:1px;height:1px;overflow:hidden;clip-path:inset(50%)';
            root.append(this.#canvas, this.#live);
            this.#canvas.addEventListener('pointerdown', (event) => this.#down(event));
            this.#canvas.addEventListener('pointermove', (event) => this.#move(event));
            this.#canvas.addEventListener('pointerup', () => this.#up());
            this.#canvas.addEventListener('pointercancel', () => this.#giveUp());
            this.#canvas.addEventListener('wheel', (event) => this.#wheel(event), { passive: false });
            this.addEventListener('keydown', (event) => this.#key(event));
            this.addEventListener('focus', () => this.#drawing.draw());
            this.addEventListener('blur', () => this.#drawing.draw());
        }
        this.watch = new ResizeObserver(() => this.#drawing.draw());
        this.watch.observe(this);
        this.listen = new AbortController();
        const { signal } = this.listen;
        document.addEventListener('pestle:theme', () => this.#drawing.draw(), { signal });
        document.addEventListener('change', ({ target }) => /^notes-(grid|rows)$/.test(target.id ?? '') && this.#read(), { signal });
        document.addEventListener('click', (event) => this.#press(event), { signal });
        this.tick = () => {
            if (player.playing) {
                this.#follow();
                this.#drawing.paint();
            }
            this.timer = requestAnimationFrame(this.tick);
        };
        this.timer = requestAnimationFrame(this.tick);
        this.#read();
    }

    disconnectedCallback() {
        this.watch.disconnect();
        this.listen.abort();
        cancelAnimationFrame(this.timer);
    }

    attributeChangedCallback() {
        if (this.isConnected && !this.#due) {
            this.#due = true;
            queueMicrotask(() => { this.#due = false; this.#read(); });
        }
    }

    #read() {
        const [view, data] = [this.#view, this.dataset];
        const [list, others] = [rowsOf(this, 'list'), rowsOf(this, 'others')];
        if (list === null || others === null) {
            again();

            return;
        }
        const kept = new Set([...view.chosen].map((n) => `${n.tick} ${n.pitch}`));
        Object.assign(view, {
            section: data.section, ticks: Number(data.ticks), bar: Number(data.bar), beat: Number(data.beat),
            scale: JSON.parse(data.scale), root: Number(data.root), home: JSON.parse(data.home), others,
            grid: Number(document.getElementById('notes-grid')?.value ?? 240),
            notes: list.map(([tick, pitch, velocity, length, chance]) => ({ tick, pitch, velocity, length, chance })),
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

    #snap(tick) {
        return Math.round(tick / this.#view.grid) * this.#view.grid;
    }

    #at(event) {
        const box = this.#canvas.getBoundingClientRect();
        const [x, y] = [event.clientX - box.left, event.clientY - box.top];
        const [tick, pitch] = [this.#drawing.tickAt(x), this.#drawing.pitchAt(y)];
        const below = y > this.clientHeight - SEEDS;
        const note = below
            ? this.#view.notes.findLast((n) => Math.abs(this.#drawing.x(n.tick) + 4 - x) < 7)
            : this.#view.notes.findLast((n) => n.pitch === pitch && x >= this.#drawing.x(n.tick) - 1 && x <= this.#drawing.x(n.tick) + Math.max(6, n.length * this.#view.wide));
        const edge = note && !below && (x > this.#drawing.x(note.tick + note.length) - EDGE ? 'end' : x < this.#drawing.x(note.tick) + EDGE && note.length * this.#view.wide > 3 * EDGE ? 'start' : null);

        return { x, y, tick, pitch, note, edge, below };
    }

    #down(event) {
        if (event.button !== 0) {
            return;
        }
        this.focus({ preventScroll: true });
        try {
            this.#canvas.setPointerCapture(event.pointerId);
        } catch { /* a pointer that is gone already */ }
        const at = this.#at(event);
        if (at.x < NAMES) {
            strikeNote(at.pitch, this.#velocity);

            return;
        }
        const before = this.#view.notes.map((n) => ({ ...n }));
        if (at.below) {
            this.#drag = at.note ? { kind: 'velocity', at, notes: this.#group(at.note), before } : null;
        } else if (at.note) {
            if (event.shiftKey && this.#view.chosen.has(at.note)) {
                this.#view.chosen.delete(at.note);
                this.#drawing.paint();

                return;
            }
            if (!this.#view.chosen.has(at.note)) {
                this.#view.chosen = new Set(event.shiftKey ? [...this.#view.chosen, at.note] : [at.note]);
            }
            this.#drag = { kind: at.edge ?? 'move', at, notes: this.#group(at.note), before, copy: event.altKey, fresh: false };
            this.#hear(at.note);
        } else if (event.shiftKey) {
            this.#drag = { kind: 'frame', at, notes: new Map(), before, kept: new Set(this.#view.chosen) };
        } else if (this.#view.chosen.size > 0) {
            // The first press beside chosen notes lets go of them.
            this.#view.chosen = new Set();
        } else if (at.tick < this.#view.ticks) {
            const grid = this.#view.grid;
            const note = { tick: Math.max(0, Math.floor(at.tick / grid) * grid), pitch: at.pitch, velocity: this.#velocity, length: Math.max(this.#length, 30), chance: 100 };
            this.#view.notes.push(note);
            this.#view.chosen = new Set([note]);
            this.#view.cursor = { tick: note.tick, pitch: note.pitch };
            this.#drag = { kind: 'end', at, notes: new Map([[note, { ...note }]]), before, fresh: true };
            this.#hear(note);
        }
        this.#drawing.paint();
    }

    /** The chosen notes with what they were, a single one where it is not among them. */
    #group(note) {
        const notes = this.#view.chosen.has(note) ? [...this.#view.chosen] : [note];

        return new Map(notes.map((n) => [n, { ...n }]));
    }

    #move(event) {
        const drag = this.#drag;
        if (!drag) {
            const { edge, note, x } = this.#at(event);
            this.#canvas.style.cursor = x < NAMES ? 'pointer' : edge ? 'ew-resize' : note ? 'grab' : 'default';

            return;
        }
        const { x, y, pitch, tick } = this.#at(event);
        const far = Math.hypot(x - drag.at.x, y - drag.at.y) > 3;
        const by = tick - drag.at.tick;
        if (drag.kind === 'frame') {
            this.#view.frame = { x: Math.min(x, drag.at.x), y: Math.min(y, drag.at.y), w: Math.abs(x - drag.at.x), h: Math.abs(y - drag.at.y) };
            const [from, to] = [Math.min(tick, drag.at.tick), Math.max(tick, drag.at.tick)];
            const [low, high] = [Math.min(pitch, drag.at.pitch), Math.max(pitch, drag.at.pitch)];
            this.#view.chosen = new Set([...drag.kept, ...this.#view.notes.filter((n) => n.pitch >= low && n.pitch <= high && n.tick < to && n.tick + n.length > from)]);
        } else if (far || drag.moved) {
            drag.moved = true;
            const rows = this.#view.rows;
            const up = rows.indexOf(drag.at.pitch) - rows.indexOf(pitch);
            for (const [note, was] of drag.notes) {
                if (drag.kind === 'velocity') {
                    note.velocity = Math.max(1, Math.min(127, Math.round(was.velocity + (drag.at.y - y) * 127 / SEEDS)));
                } else if (drag.kind === 'move') {
                    note.tick = Math.max(0, Math.min(this.#view.ticks - 1, was.tick + this.#snap(by)));
                    const place = rows.indexOf(was.pitch) - up;
                    const to = rows[Math.max(0, Math.min(rows.length - 1, place))];
                    if (to !== note.pitch && note === drag.at.note) {
                        note.pitch = to;
                        this.#hear(note);
                    }
                    note.pitch = to;
                } else if (drag.kind === 'end') {
                    const end = this.#snap(was.tick + was.length + by);
                    note.length = Math.max(Math.min(this.#view.grid, 30), drag.fresh ? Math.max(this.#view.grid, this.#snap(tick - was.tick)) : end - was.tick);
                } else {
                    const start = Math.max(0, Math.min(was.tick + was.length - 30, this.#snap(was.tick + by)));
                    note.length = was.tick + was.length - start;
                    note.tick = start;
                }
            }
        }
        this.#drawing.paint();
    }

    #up() {
        const drag = this.#drag;
        this.#drag = null;
        this.#view.frame = null;
        if (drag && drag.kind !== 'frame') {
            const [put, was] = [[...drag.notes.keys()], [...drag.notes.values()]];
            if (drag.fresh) {
                this.#length = put[0].length;
                this.#send('place', put);
            } else if (!drag.moved) {
                this.#velocity = drag.at.note.velocity;
                this.#length = drag.at.note.length;
            } else if (drag.kind === 'velocity') {
                this.#send('velocity', put);
            } else if (drag.copy) {
                this.#send('paste', put);
            } else {
                this.#send(drag.kind === 'move' ? 'move' : 'length', put, was);
            }
        }
        this.#drawing.paint();
    }

    #giveUp() {
        if (this.#drag) {
            this.#view.notes = this.#drag.before;
            this.#view.chosen = new Set();
            this.#view.frame = this.#drag = null;
            this.#drawing.paint();
        }
    }

    /** What the notes are becomes a change: those that moved are taken from where they were. */
    #send(gesture, put, take = []) {
        const there = new Set(put.map((n) => `${n.tick} ${n.pitch}`));
        change({
            type: 'edit-notes', pattern: this.dataset.pattern, gesture,
            notes: put.filter((n) => n.tick < this.#view.ticks).map((n) => [n.tick, n.pitch, n.velocity, n.length, n.chance]),
            take: take.filter((n) => !there.has(`${n.tick} ${n.pitch}`)).map((n) => [n.tick, n.pitch]),
        });
    }

    #hear(note) {
        const what = document.getElementById('notes-hear')?.value ?? 'note';
        if (what === 'none' || player.playing) {
            return;
        }
        const chord = what === 'chord' ? this.#view.notes.filter((n) => n !== note && n.tick < note.tick + note.length && n.tick + n.length > note.tick) : [];
        for (const { pitch, velocity } of [note, ...chord]) {
            strikeNote(pitch, velocity);
        }
    }

    #wheel(event) {
        event.preventDefault();
        const view = this.#view;
        const box = this.#canvas.getBoundingClientRect();
        if (event.ctrlKey || event.metaKey) {
            // Two fingers apart, or the wheel with Ctrl: time; with Shift as well, pitch.
            const by = Math.exp(-event.deltaY / 300);
            if (event.shiftKey) {
                view.tall = Math.max(5, Math.min(32, view.tall * by));
            } else {
                const tick = this.#drawing.tickAt(event.clientX - box.left);
                view.wide = Math.max((this.clientWidth - NAMES - 8) / view.ticks / 1.5, Math.min(1, view.wide * by));
                view.left = tick - (event.clientX - box.left - NAMES) / view.wide;
            }
        } else if (event.shiftKey) {
            view.left += event.deltaY / view.wide;
        } else {
            view.left += event.deltaX / view.wide;
            view.top += event.deltaY / view.tall;
        }
        view.left = Math.max(0, Math.min(view.left, view.ticks - 0.2 * this.clientWidth / view.wide));
        view.top = Math.max(0, Math.min(view.top, view.rows.length - 4));
        this.#drawing.paint();
    }

    #follow() {
        const wished = document.getElementById('notes-follow')?.checked;
        if (wished && !this.#drag && player.what === 'loop' && player.loop?.section === this.#view.section) {
            const tick = player.ticks() % this.#view.ticks;
            const seen = (this.clientWidth - NAMES) / this.#view.wide;
            if (tick < this.#view.left || tick > this.#view.left + seen) {
                this.#view.left = seen >= this.#view.ticks ? 0 : Math.floor(tick / this.#view.bar) * this.#view.bar;
            }
        }
    }

    /** The chosen notes moved by so many ticks and rows of their own. */
    #shift(gesture, ticks, pitched) {
        const was = [...this.#view.chosen].map((n) => ({ ...n }));
        for (const note of this.#view.chosen) {
            note.tick = Math.max(0, Math.min(this.#view.ticks - 1, note.tick + ticks));
            note.pitch = Math.max(0, Math.min(127, pitched(note.pitch)));
        }
        if (was.length > 0) {
            this.#hear([...this.#view.chosen][0]);
            this.#send(gesture, [...this.#view.chosen], was);
            this.#drawing.paint();
        }
    }

    /** The next note of the scale up or down. */
    #inScale(pitch, way) {
        const { scale } = this.#view;
        let next = pitch + way;
        while (scale.length > 0 && !scale.includes(((next % 12) + 12) % 12)) {
            next += way;
        }

        return next;
    }

    #press(event) {
        const what = event.target.closest?.('[data-notes-do]')?.dataset.notesDo;
        const by = { up: (p) => p + 1, down: (p) => p - 1, 'octave-up': (p) => p + 12, 'octave-down': (p) => p - 12, 'scale-up': (p) => this.#inScale(p, 1), 'scale-down': (p) => this.#inScale(p, -1) };
        if (what) {
            if (this.#view.chosen.size === 0) {
                this.#view.chosen = new Set(this.#view.notes);
            }
            this.#shift('transpose', 0, by[what]);
        }
    }

    #key(event) {
        const view = this.#view;
        const chosen = [...view.chosen];
        const way = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: 1, ArrowDown: -1 }[event.key];
        const level = event.key === 'ArrowLeft' || event.key === 'ArrowRight';
        if ((event.ctrlKey || event.metaKey) && ['KeyC', 'KeyV', 'KeyD'].includes(event.code)) {
            if (event.code === 'KeyC') {
                const from = Math.min(...chosen.map((n) => n.tick));
                clipboard = chosen.map((n) => ({ ...n, tick: n.tick - from }));
            } else {
                const from = event.code === 'KeyV' ? this.#snap(this.#place()) : Math.max(0, ...chosen.map((n) => n.tick + n.length)) - Math.min(...chosen.map((n) => n.tick));
                const put = (event.code === 'KeyV' ? clipboard : chosen).map((n) => ({ ...n, tick: n.tick + from })).filter((n) => n.tick < view.ticks);
                if (put.length > 0) {
                    view.notes.push(...put);
                    view.chosen = new Set(put);
                    this.#send('paste', put);
                }
            }
        } else if (event.ctrlKey || event.metaKey || event.altKey) {
            return;
        } else if (event.key === 'Escape') {
            this.#giveUp();
            view.chosen = new Set();
        } else if (way !== undefined && chosen.length > 0) {
            if (event.shiftKey && level) {
                const was = chosen.map((n) => ({ ...n }));
                chosen.forEach((n) => { n.length = Math.max(30, n.length + way * view.grid); });
                this.#length = chosen[0].length;
                this.#send('length', chosen, was);
            } else if (event.shiftKey) {
                chosen.forEach((n) => { n.velocity = Math.max(1, Math.min(127, n.velocity + 8 * way)); });
                this.#send('velocity', chosen);
            } else {
                this.#shift('move', level ? way * view.grid : 0, (pitch) => (level ? pitch : view.rows[view.rows.indexOf(pitch) - way] ?? pitch));
            }
        } else if (way !== undefined) {
            view.cursor.tick = Math.max(0, Math.min(view.ticks - view.grid, level ? view.cursor.tick + way * view.grid : view.cursor.tick));
            view.cursor.pitch = level ? view.cursor.pitch : view.rows[view.rows.indexOf(view.cursor.pitch) - way] ?? view.cursor.pitch;
            this.#seek();
        } else if (event.key === 'PageUp' || event.key === 'PageDown') {
            this.#shift('transpose', 0, (pitch) => pitch + (event.key === 'PageUp' ? 12 : -12));
        } else if (event.code === 'KeyX' && chosen.length === 0) {
            const note = { tick: view.cursor.tick, pitch: view.cursor.pitch, velocity: this.#velocity, length: this.#length, chance: 100 };
            view.notes.push(note);
            this.#hear(note);
            this.#send('place', [note]);
        } else if (event.key === 'Delete' || event.key === 'Backspace' || event.code === 'KeyX') {
            const under = chosen.length > 0 ? chosen : view.notes.filter((n) => n.pitch === view.cursor.pitch && n.tick <= view.cursor.tick && n.tick + n.length > view.cursor.tick);
            if (under.length > 0) {
                view.notes = view.notes.filter((n) => !under.includes(n));
                view.chosen = new Set();
                this.#send('remove', [], under);
            }
        } else if (event.code === 'KeyA') {
            view.chosen = new Set(view.notes);
        } else {
            return;
        }
        event.preventDefault();
        event.stopPropagation();
        this.#say();
        this.#drawing.paint();
    }

    /** Where what is pasted goes: at the playhead, or at the cursor while nothing plays. */
    #place() {
        return player.playing && player.what === 'loop' ? player.ticks() % this.#view.ticks : this.#view.cursor.tick;
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
