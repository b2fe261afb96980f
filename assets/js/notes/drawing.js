// How notes look: rows of pitches, bars filled by velocity, other parts faintly behind, velocities below.

import { player } from '../audio/player.js';
import { colour } from '../meters.js';
import { swung } from '../swing.js';

export const NAMES = 46;
export const HEAD = 18;
export const SEEDS = 46;
const TONES = ['C', 'C#', 'D', 'D#', 'E', 'F', 'F#', 'G', 'G#', 'A', 'A#', 'B'];

export function noteName(pitch) {
    return `${TONES[pitch % 12]}${Math.floor(pitch / 12) - 1}`;
}

export class NotesDrawing {
    /** @param view notes, chosen (a Set), cursor, scale, root, home, others, section, ticks, bar, beat, grid, rows; left (ticks), top (row), wide (pixels a tick), tall (pixels a row), frame */
    constructor(element, canvas, view) {
        Object.assign(this, { element, canvas, view });
    }

    get width() {
        return this.element.clientWidth;
    }

    get height() {
        return this.element.clientHeight;
    }

    x(tick) {
        return NAMES + (tick - this.view.left) * this.view.wide;
    }

    y(pitch) {
        return HEAD + (this.view.rows.indexOf(pitch) - this.view.top) * this.view.tall;
    }

    tickAt(x) {
        return (x - NAMES) / this.view.wide + this.view.left;
    }

    pitchAt(y) {
        const { rows, top, tall } = this.view;

        return rows[Math.max(0, Math.min(rows.length - 1, Math.floor((y - HEAD) / tall + top)))];
    }

    draw() {
        const scale = devicePixelRatio;
        const [width, height] = [Math.round(this.width * scale), Math.round(this.height * scale)];
        if (this.canvas.width !== width || this.canvas.height !== height) {
            Object.assign(this.canvas, { width, height });
            this.canvas.style.width = `${this.width}px`;
            this.canvas.style.height = `${this.height}px`;
        }
        this.paint();
    }

    paint() {
        const { view, width, height } = this;
        const context = this.canvas.getContext('2d');
        context.setTransform(devicePixelRatio, 0, 0, devicePixelRatio, 0, 0);
        context.fillStyle = colour('raised');
        context.fillRect(0, 0, width, height);
        const bottom = height - SEEDS;
        context.save();
        context.beginPath();
        context.rect(0, HEAD, width, bottom - HEAD);
        context.clip();
        this.#paintRows(context, bottom);
        this.#paintLines(context, bottom);
        const playing = player.playing && player.what === 'loop' && player.loop?.section === view.section ? player.ticks() % view.ticks : -1;
        context.save();
        context.beginPath();
        context.rect(NAMES, HEAD, width - NAMES, bottom - HEAD);
        context.clip();
        this.#paintOthers(context);
        this.#paintNotes(context, playing);
        if (view.frame) {
            const { x, y, w, h } = view.frame;
            context.strokeStyle = colour('tide');
            context.strokeRect(x, y, w, h);
        }
        if (this.element.matches(':focus-visible') && view.chosen.size === 0) {
            context.strokeStyle = colour('tide');
            context.lineWidth = 2;
            context.strokeRect(this.x(view.cursor.tick), this.y(view.cursor.pitch) + 1, view.grid * view.wide, view.tall - 2);
        }
        context.restore();
        context.restore();
        this.#paintHead(context);
        this.#paintVelocities(context, bottom);
        if (playing >= 0 && this.x(playing) >= NAMES) {
            context.fillStyle = colour('turmeric');
            context.fillRect(this.x(playing), 0, 2, height);
        }
    }

    #paintRows(context, bottom) {
        const { rows, top, tall, scale, root, home } = this.view;
        context.font = '12px JetBrains';
        for (let i = Math.floor(top); i < rows.length && HEAD + (i - top) * tall < bottom; i += 1) {
            const y = HEAD + (i - top) * tall;
            const tone = rows[i] % 12;
            const inside = scale.length === 0 || scale.includes(tone);
            context.fillStyle = colour(tone === root ? 'sunk' : inside ? 'ground' : 'raised');
            context.fillRect(NAMES, y, this.width, tall - 1);
            context.fillStyle = colour(inside ? 'ink' : 'quiet');
            if (tall >= 12 || tone === 0 || tone === root) {
                context.fillText(noteName(rows[i]), 16, y + tall / 2 + 4);
            }
            if (tone === root || home.includes(tone)) {
                context.beginPath();
                context.arc(8, y + tall / 2, 3.5, 0, 7);
                context.fillStyle = context.strokeStyle = colour('tide');
                context.lineWidth = 1.5;
                tone === root ? context.fill() : context.stroke();
            }
        }
    }

    #paintLines(context, bottom) {
        const { ticks, bar, beat, grid, wide } = this.view;
        const step = grid * wide >= 6 ? grid : beat;
        for (let tick = Math.max(0, Math.floor(this.view.left / step) * step); tick <= ticks && this.x(tick) < this.width; tick += step) {
            if (this.x(tick) < NAMES) {
                continue;
            }
            context.globalAlpha = tick % bar === 0 ? 1 : tick % bar % beat === 0 ? 0.6 : 0.25;
            context.fillStyle = colour('line');
            context.fillRect(this.x(tick), HEAD, 1, bottom);
        }
        context.globalAlpha = 1;
        if (this.x(ticks) < this.width) {
            context.fillStyle = colour('sunk');
            context.fillRect(this.x(ticks), HEAD, this.width, bottom);
        }
    }

    #paintOthers(context) {
        context.strokeStyle = colour('line');
        context.lineWidth = 1.5;
        for (const [tick, pitch, length] of this.view.others) {
            if (this.view.rows.includes(pitch)) {
                context.strokeRect(this.x(tick) + 1, this.y(pitch) + 3, Math.max(3, length * this.view.wide - 2), this.view.tall - 6);
            }
        }
    }

    #paintNotes(context, playing) {
        const { tall, wide, chosen } = this.view;
        const until = this.tickAt(this.width);
        for (const note of this.view.notes) {
            if (note.tick > until || note.tick + note.length < this.view.left) {
                continue;
            }
            const [x, y, width] = [this.x(note.tick) + 1, this.y(note.pitch) + 1, Math.max(4, note.length * wide - 2)];
            context.globalAlpha = 0.4 + 0.6 * note.chance / 100;
            context.fillStyle = colour('plum');
            context.globalAlpha *= 0.3;
            context.beginPath();
            context.roundRect(x, y, width, tall - 3, 4);
            context.fill();
            context.globalAlpha = 1;
            // The fill from the left is its velocity.
            context.save();
            context.clip();
            context.fillStyle = colour(playing >= note.tick && playing < note.tick + note.length ? 'turmeric' : 'plum');
            context.fillRect(x, y, Math.max(3, width * note.velocity / 127), tall - 3);
            context.restore();
            if (chosen.has(note)) {
                context.strokeStyle = colour('ink');
                context.lineWidth = 2;
                context.stroke();
            }
            // Where it is heard, where that is elsewhere than written.
            const heard = this.x(this.#heard(note));
            if (Math.abs(heard + 1 - x) > 1) {
                context.fillStyle = colour('ink');
                context.fillRect(heard, y + 1, 2, tall - 5);
            }
        }
    }

    #heard({ tick, pitch }) {
        const felt = this.view.felt.get(`${tick} ${pitch}`);

        return felt ? felt.tick : swung(tick, this.view);
    }

    #paintHead(context) {
        const { bar, beat, wide, ticks } = this.view;
        context.fillStyle = colour('raised');
        context.fillRect(0, 0, this.width, HEAD);
        context.fillStyle = colour('quiet');
        context.font = '12px JetBrains';
        const each = beat * wide < 36 ? bar : beat;
        for (let tick = Math.max(0, Math.floor(this.view.left / each) * each); tick < ticks && this.x(tick) < this.width; tick += each) {
            if (this.x(tick) >= NAMES) {
                context.fillText(each === bar ? `${tick / bar + 1}` : `${Math.floor(tick / bar) + 1}.${Math.floor(tick % bar / beat) + 1}`, this.x(tick) + 2, 13);
            }
        }
    }

    #paintVelocities(context, bottom) {
        context.fillStyle = colour('ground');
        context.fillRect(0, bottom, this.width, SEEDS);
        context.fillStyle = colour('line');
        context.fillRect(0, bottom, this.width, 1);
        context.fillStyle = colour('quiet');
        context.fillText('vel', 12, bottom + SEEDS / 2 + 4);
        for (const note of this.view.notes) {
            const x = this.x(note.tick);
            if (x >= NAMES && x < this.width) {
                const tall = (SEEDS - 8) * note.velocity / 127;
                context.fillStyle = colour(this.view.chosen.has(note) ? 'ink' : 'plum');
                context.beginPath();
                context.roundRect(x + 1, bottom + SEEDS - 3 - tall, 6, tall, 3);
                context.fill();
            }
        }
    }
}
