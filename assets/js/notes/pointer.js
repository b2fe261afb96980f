// The note view by pointer: draw, move, lengthen, frame; zoom and scroll by wheel and two fingers.

import { strikeNote } from '../hands.js';
import { NAMES, SEEDS } from './drawing.js';

const EDGE = 6;

export class NotesPointer {
    #drag = null;

    constructor(element, canvas, view, drawing, gestures) {
        Object.assign(this, { element, canvas, view, drawing, gestures });
        canvas.addEventListener('pointerdown', (event) => this.down(event));
        canvas.addEventListener('pointermove', (event) => this.move(event));
        canvas.addEventListener('pointerup', () => this.up());
        canvas.addEventListener('pointercancel', () => this.giveUp());
        canvas.addEventListener('wheel', (event) => this.wheel(event), { passive: false });
    }

    get isDragging() {
        return this.#drag !== null;
    }

    #at(event) {
        const box = this.canvas.getBoundingClientRect();
        const [x, y] = [event.clientX - box.left, event.clientY - box.top];
        const [tick, pitch] = [this.drawing.tickAt(x), this.drawing.pitchAt(y)];
        const below = y > this.element.clientHeight - SEEDS;
        const note = below
            ? this.view.notes.findLast((n) => Math.abs(this.drawing.x(n.tick) + 4 - x) < 7)
            : this.view.notes.findLast((n) => n.pitch === pitch && x >= this.drawing.x(n.tick) - 1 && x <= this.drawing.x(n.tick) + Math.max(6, n.length * this.view.wide));
        const edge = note && !below && (x > this.drawing.x(note.tick + note.length) - EDGE ? 'end' : x < this.drawing.x(note.tick) + EDGE && note.length * this.view.wide > 3 * EDGE ? 'start' : null);

        return { x, y, tick, pitch, note, edge, below };
    }

    down(event) {
        if (event.button !== 0) {
            return;
        }
        this.element.focus({ preventScroll: true });
        try {
            this.canvas.setPointerCapture(event.pointerId);
        } catch { /* a pointer that is gone already */ }
        const at = this.#at(event);
        if (at.x < NAMES) {
            strikeNote(at.pitch, this.gestures.velocity);

            return;
        }
        const before = this.view.notes.map((n) => ({ ...n }));
        if (at.below) {
            this.#drag = at.note ? { kind: 'velocity', at, notes: this.#group(at.note), before } : null;
        } else if (at.note) {
            if (event.shiftKey && this.view.chosen.has(at.note)) {
                this.view.chosen.delete(at.note);
                this.drawing.paint();

                return;
            }
            if (!this.view.chosen.has(at.note)) {
                this.view.chosen = new Set(event.shiftKey ? [...this.view.chosen, at.note] : [at.note]);
            }
            this.#drag = { kind: at.edge ?? 'move', at, notes: this.#group(at.note), before, copy: event.altKey, fresh: false };
            this.gestures.hear(at.note);
        } else if (event.shiftKey) {
            this.#drag = { kind: 'frame', at, notes: new Map(), before, kept: new Set(this.view.chosen) };
        } else if (this.view.chosen.size > 0) {
            // The first press beside chosen notes lets go of them.
            this.view.chosen = new Set();
        } else if (at.tick < this.view.ticks) {
            const grid = this.view.grid;
            const note = { tick: Math.max(0, Math.floor(at.tick / grid) * grid), pitch: at.pitch, velocity: this.gestures.velocity, length: Math.max(this.gestures.length, 30), chance: 100 };
            this.view.notes.push(note);
            this.view.chosen = new Set([note]);
            this.view.cursor = { tick: note.tick, pitch: note.pitch };
            this.#drag = { kind: 'end', at, notes: new Map([[note, { ...note }]]), before, fresh: true };
            this.gestures.hear(note);
        }
        this.drawing.paint();
    }

    /** The chosen notes with what they were, a single one where it is not among them. */
    #group(note) {
        const notes = this.view.chosen.has(note) ? [...this.view.chosen] : [note];

        return new Map(notes.map((n) => [n, { ...n }]));
    }

    move(event) {
        const drag = this.#drag;
        if (!drag) {
            const { edge, note, x } = this.#at(event);
            this.canvas.style.cursor = x < NAMES ? 'pointer' : edge ? 'ew-resize' : note ? 'grab' : 'default';

            return;
        }
        const { x, y, pitch, tick } = this.#at(event);
        const far = Math.hypot(x - drag.at.x, y - drag.at.y) > 3;
        const by = tick - drag.at.tick;
        if (drag.kind === 'frame') {
            this.view.frame = { x: Math.min(x, drag.at.x), y: Math.min(y, drag.at.y), w: Math.abs(x - drag.at.x), h: Math.abs(y - drag.at.y) };
            const [from, to] = [Math.min(tick, drag.at.tick), Math.max(tick, drag.at.tick)];
            const [low, high] = [Math.min(pitch, drag.at.pitch), Math.max(pitch, drag.at.pitch)];
            this.view.chosen = new Set([...drag.kept, ...this.view.notes.filter((n) => n.pitch >= low && n.pitch <= high && n.tick < to && n.tick + n.length > from)]);
        } else if (far || drag.moved) {
            drag.moved = true;
            const rows = this.view.rows;
            const up = rows.indexOf(drag.at.pitch) - rows.indexOf(pitch);
            for (const [note, was] of drag.notes) {
                if (drag.kind === 'velocity') {
                    note.velocity = Math.max(1, Math.min(127, Math.round(was.velocity + (drag.at.y - y) * 127 / SEEDS)));
                } else if (drag.kind === 'move') {
                    note.tick = Math.max(0, Math.min(this.view.ticks - 1, was.tick + this.gestures.snap(by)));
                    const place = rows.indexOf(was.pitch) - up;
                    const to = rows[Math.max(0, Math.min(rows.length - 1, place))];
                    if (to !== note.pitch && note === drag.at.note) {
                        note.pitch = to;
                        this.gestures.hear(note);
                    }
                    note.pitch = to;
                } else if (drag.kind === 'end') {
                    const end = this.gestures.snap(was.tick + was.length + by);
                    note.length = Math.max(Math.min(this.view.grid, 30), drag.fresh ? Math.max(this.view.grid, this.gestures.snap(tick - was.tick)) : end - was.tick);
                } else {
                    const start = Math.max(0, Math.min(was.tick + was.length - 30, this.gestures.snap(was.tick + by)));
                    note.length = was.tick + was.length - start;
                    note.tick = start;
                }
            }
        }
        this.drawing.paint();
    }

    up() {
        const drag = this.#drag;
        this.#drag = null;
        this.view.frame = null;
        if (drag && drag.kind !== 'frame') {
            const [put, was] = [[...drag.notes.keys()], [...drag.notes.values()]];
            if (drag.fresh) {
                this.gestures.length = put[0].length;
                this.gestures.send('place', put);
            } else if (!drag.moved) {
                this.gestures.velocity = drag.at.note.velocity;
                this.gestures.length = drag.at.note.length;
            } else if (drag.kind === 'velocity') {
                this.gestures.send('velocity', put);
            } else if (drag.copy) {
                this.gestures.send('paste', put);
            } else {
                this.gestures.send(drag.kind === 'move' ? 'move' : 'length', put, was);
            }
        }
        this.drawing.paint();
    }

    giveUp() {
        if (this.#drag) {
            this.view.notes = this.#drag.before;
            this.view.chosen = new Set();
            this.view.frame = this.#drag = null;
            this.drawing.paint();
        }
    }

    wheel(event) {
        event.preventDefault();
        const view = this.view;
        const box = this.canvas.getBoundingClientRect();
        if (event.ctrlKey || event.metaKey) {
            // Two fingers apart, or the wheel with Ctrl: time; with Shift as well, pitch.
            const by = Math.exp(-event.deltaY / 300);
            if (event.shiftKey) {
                view.tall = Math.max(5, Math.min(32, view.tall * by));
            } else {
                const tick = this.drawing.tickAt(event.clientX - box.left);
                view.wide = Math.max((this.element.clientWidth - NAMES - 8) / view.ticks / 1.5, Math.min(1, view.wide * by));
                view.left = tick - (event.clientX - box.left - NAMES) / view.wide;
            }
        } else if (event.shiftKey) {
            view.left += event.deltaY / view.wide;
        } else {
            view.left += event.deltaX / view.wide;
            view.top += event.deltaY / view.tall;
        }
        view.left = Math.max(0, Math.min(view.left, view.ticks - 0.2 * this.element.clientWidth / view.wide));
        view.top = Math.max(0, Math.min(view.top, view.rows.length - 4));
        this.drawing.paint();
    }
}
