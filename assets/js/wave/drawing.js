// How a recording looks: mini map, outline, beat grid, slices with their tabs, selection, cursor and what plays.

import { colour, ROLE_COLOURS } from '../meters.js';

export const MAP = 30;
export const TABS = 26;
export const TAB_WIDTH = 30;

/** Up to so many frames a pixel they are drawn one by one. */
const FRAMES_APART = 3;

/** Index of the first of ascending frames that is not before one. */
function firstFrom(frames, from) {
    let [low, high] = [0, frames.length];
    while (low < high) {
        const middle = (low + high) >> 1;
        [low, high] = frames[middle] < from ? [middle + 1, high] : [low, middle];
    }

    return low;
}

export class WaveDrawing {
    #asked = null;

    constructor(canvas, view) {
        this.canvas = canvas;
        this.view = view;
    }

    get width() {
        return this.canvas.clientWidth;
    }

    get top() {
        return MAP + 6;
    }

    get bottom() {
        return this.canvas.clientHeight - TABS;
    }

    x(frame) {
        return (frame - this.view.from) / (this.view.to - this.view.from) * this.width;
    }

    /** Draws with the next picture of the screen, once however often it is asked. */
    draw() {
        this.#asked ??= requestAnimationFrame(() => {
            this.#asked = null;
            this.#paint();
        });
    }

    #paint() {
        const { width, top, bottom, view } = this;
        if (width < 10 || bottom - top < 20 || !view.data) {
            return;
        }
        const scale = devicePixelRatio;
        const [across, down] = [Math.round(width * scale), Math.round(this.canvas.clientHeight * scale)];
        if (this.canvas.width !== across || this.canvas.height !== down) {
            Object.assign(this.canvas, { width: across, height: down });
        }
        const pen = this.canvas.getContext('2d');
        pen.setTransform(scale, 0, 0, scale, 0, 0);
        pen.clearRect(0, 0, width, this.canvas.clientHeight);
        pen.fillStyle = colour('sunk');
        pen.beginPath();
        pen.roundRect(0, 0, width, MAP, 6);
        pen.roundRect(0, top, width, bottom - top, 8);
        pen.fill();
        this.#outline(pen, 0, view.frames, 2, MAP - 2, colour('clay'), null);
        pen.strokeStyle = colour('ink');
        pen.strokeRect(view.from / view.frames * width + 0.5, 0.5, Math.max(2, (view.to - view.from) / view.frames * width - 1), MAP - 1);
        this.#lit(pen);
        this.#grid(pen);
        // Left above right, where they differ.
        const ink = view.before ? colour('clay') : colour('ink');
        const half = (bottom - top) / view.data.sides;
        for (let side = 0; side < view.data.sides; side += 1) {
            this.#outline(pen, view.from, view.to, top + side * half + 4, top + (side + 1) * half - 4, ink, side);
        }
        this.#notes(pen);
        this.#ends(pen);
        view.markers.forEach((frame, i) => this.#tab(pen, frame, i));
        pen.fillStyle = colour('tide');
        pen.fillRect(this.x(view.cursor), top, 1, bottom - top);
        if (view.playing) {
            pen.fillStyle = colour('turmeric');
            pen.fillRect(this.x(view.playing.frame), top, 2, bottom - top);
        }
    }

    /** What was heard, high notes above: what is taken in full, the rest as an outline. */
    #notes(pen) {
        const { notes } = this.view;
        if (notes.length === 0) {
            return;
        }
        const pitches = notes.map((note) => note[2]);
        const [low, high] = [Math.min(...pitches) - 2, Math.max(...pitches) + 2];
        const row = (this.bottom - this.top) / (high - low);
        const tall = Math.max(4, Math.min(12, row - 1));
        for (const [start, end, pitch, velocity, sure, taken] of notes) {
            const [x, y] = [this.x(start), this.bottom - (pitch - low) * row - tall / 2];
            const width = Math.max(3, this.x(end) - x - 1);
            pen.globalAlpha = taken ? 0.5 + 0.5 * sure : 0.7;
            pen.fillStyle = pen.strokeStyle = colour('plum');
            pen.lineWidth = 1;
            pen.beginPath();
            pen.roundRect(x, y, width, tall, 3);
            taken ? pen.fill() : pen.stroke();
            if (taken) {
                pen.globalAlpha = 1;
                pen.fillStyle = colour('raised');
                pen.fillRect(x + 2, y + tall / 2 - 1, Math.max(1, (width - 4) * velocity / 127), 2);
            }
        }
        pen.globalAlpha = 1;
    }

    /** The selection, or the chosen slice. */
    #lit(pen) {
        const { view, top, bottom } = this;
        const [start, end] = view.selection ?? (view.markers.length > 0 ? view.region(view.chosen) : [0, 0]);
        pen.fillStyle = colour('turmeric');
        pen.globalAlpha = view.selection ? 0.32 : 0.2;
        pen.fillRect(this.x(start), top, this.x(end) - this.x(start), bottom - top);
        pen.globalAlpha = 1;
        if (view.selection) {
            pen.fillRect(this.x(start), top, 1.5, bottom - top);
            pen.fillRect(this.x(end) - 1.5, top, 1.5, bottom - top);
        }
    }

    /** Lines at the beats, stronger where a bar begins; when the grid is set, with bar numbers and what holds them. */
    #grid(pen) {
        const { view, top, bottom } = this;
        const near = view.beats.length > 1 && (view.beats.at(-1) - view.beats[0]) / (view.beats.length - 1) / (view.to - view.from) * this.width;
        if (!near || near < 1.5) {
            return;
        }
        const sets = view.mode === 'grid';
        let numbered = -40;
        for (let i = firstFrom(view.beats, view.from); i < view.beats.length && view.beats[i] <= view.to; i += 1) {
            const x = this.x(view.beats[i]);
            const beat = view.first + i;
            const bar = beat % view.bar === 0;
            if (!(near > 5 || bar)) {
                continue;
            }
            const chosen = sets && beat === view.line;
            pen.fillStyle = chosen ? colour('paprika') : colour(sets ? 'tide' : 'line');
            pen.globalAlpha = chosen || bar ? 1 : 0.5;
            pen.fillRect(x, top, chosen ? 2 : bar ? 1.5 : 1, bottom - top);
            pen.globalAlpha = 1;
            if (sets && beat in view.held) {
                this.#pin(pen, x, chosen, view.held[beat]);
            }
            if (sets && bar && x - numbered > 34) {
                numbered = x;
                pen.fillStyle = colour('quiet');
                pen.font = '12px JetBrains';
                pen.fillText(String(beat / view.bar + 1), x + 3, bottom + 16);
            }
        }
    }

    /** What holds a line: full where the tempo changes at once, hollow where it glides. */
    #pin(pen, x, chosen, gradual) {
        pen.fillStyle = chosen ? colour('paprika') : colour('tide');
        pen.strokeStyle = pen.fillStyle;
        pen.lineWidth = 2;
        pen.beginPath();
        pen.arc(x, this.top + 8, 5, 0, 2 * Math.PI);
        if (gradual) {
            pen.stroke();
        } else {
            pen.fill();
        }
    }

    /** Slices that end elsewhere than at the next marker: a bar below the wave says how far they reach. */
    #ends(pen) {
        const { view, bottom } = this;
        view.ends.forEach((end, i) => {
            if (end !== null && view.markers[i] !== undefined) {
                pen.fillStyle = colour(i === view.chosen ? 'turmeric' : 'clay');
                pen.fillRect(this.x(view.markers[i]), bottom + 1, this.x(end) - this.x(view.markers[i]), 2);
                pen.fillRect(this.x(end) - 1.5, bottom - 10, 1.5, 12);
            }
        });
    }

    /** Lowest and highest value of each pixel as one closed shape, of a side or of all; single frames as lines when they lie apart. */
    #outline(pen, from, to, top, bottom, ink, side) {
        const { data } = this.view;
        const columns = Math.floor(this.width);
        const perPixel = (to - from) / columns;
        if (perPixel < FRAMES_APART) {
            this.#closely(pen, from, to, top, bottom, ink, side ?? 0);

            return;
        }
        const values = data.isClose(perPixel) ? data.closeColumns(from, perPixel, columns, side) : data.columns(from, perPixel, columns, side);
        if (!values) {
            pen.fillStyle = colour('quiet');
            pen.font = '13px sans-serif';
            pen.fillText(data.progress === null ? 'Working it out …' : `Working it out: ${Math.round(100 * data.progress)} %`, 12, (top + bottom) / 2 + 4);

            return;
        }
        const middle = (top + bottom) / 2;
        const half = (bottom - top) / 2 / 127;
        pen.fillStyle = ink;
        pen.beginPath();
        for (let x = 0; x < columns; x += 1) {
            pen.lineTo(x, middle - Math.max(0.5, values[2 * x + 1] * half));
        }
        for (let x = columns - 1; x >= 0; x -= 1) {
            pen.lineTo(x, middle - Math.min(-0.5, values[2 * x] * half));
        }
        pen.fill();
    }

    #closely(pen, from, to, top, bottom, ink, side) {
        const first = Math.max(0, Math.floor(from) - 2);
        const count = Math.ceil(to - from) + 4;
        const close = this.view.data.frames(first, count);
        if (!close) {
            return;
        }
        const middle = (top + bottom) / 2;
        const half = (bottom - top) / 2 / 32768;
        pen.strokeStyle = ink;
        pen.lineWidth = 1.5;
        pen.beginPath();
        for (let f = first; f < first + count; f += 1) {
            const value = close.values[2 * (f - close.first) + side];
            if (value !== undefined) {
                pen.lineTo((f - from) / (to - from) * this.width, middle - value * half);
            }
        }
        pen.stroke();
    }

    #tab(pen, frame, i) {
        const { view, top, bottom } = this;
        const x = this.x(frame);
        if (x < -TAB_WIDTH || x > this.width) {
            return;
        }
        const chosen = i === view.chosen;
        // Where slices are narrow, tabs are as wide as they, and without a number that would be cut.
        const wide = Math.min(TAB_WIDTH, this.x(view.markers[i + 1] ?? view.frames) - x);
        const corner = Math.min(6, wide / 2);
        pen.fillStyle = colour('paprika');
        pen.fillRect(x, top, 1.3, bottom - top + TABS);
        pen.fillStyle = chosen ? colour('turmeric') : colour('raised');
        pen.strokeStyle = colour('line');
        pen.lineWidth = 1;
        pen.beginPath();
        pen.moveTo(x, bottom + 4);
        pen.lineTo(x + wide, bottom + 4);
        pen.lineTo(x + wide, bottom + 15);
        pen.lineTo(x + wide - corner, bottom + 22);
        pen.lineTo(x, bottom + 22);
        pen.closePath();
        pen.fill();
        pen.stroke();
        pen.fillStyle = colour(ROLE_COLOURS[view.roles[i]] ?? 'clay');
        pen.fillRect(x, bottom + 19, Math.max(1, wide - 4), 3);
        pen.fillStyle = chosen ? '#221a08' : colour('ink');
        pen.font = '12px JetBrains';
        const inset = wide < TAB_WIDTH ? 3 : 6;
        if (inset + pen.measureText(String(i + 1)).width <= wide) {
            pen.fillText(String(i + 1), x + inset, bottom + 16);
        }
    }
}
