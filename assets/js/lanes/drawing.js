// How step lanes look: the grid, a seed a hit at its real time, what plays, what is chosen.

import { player } from '../audio/player.js';
import { colour, ROLE_COLOURS } from '../meters.js';
import { swung } from '../swing.js';

export const TOP = 20;
export const ROW = 33;
const SIXTEENTH = 240;
const LEAST_STEP_WIDTH = 9;
/** So long a hit is lit that sounds. */
const LIT_TICKS = 200;

export class LanesDrawing {
    /** What stands still. */
    #still = document.createElement('canvas');
    /** By pad: lane, place in a folded lane, role, and the lane's own length. */
    #laneOf = new Map();

    /** @param view hits, felt (by key of a hit where it is heard and how strong), lanes, cursor, chosen, section, step (ticks), and of the pattern: id, ticks, swing, the step it moves, ticks of a bar and a beat */
    constructor(element, canvas, view) {
        Object.assign(this, { element, canvas, view });
    }

    get steps() {
        return Math.ceil(this.view.ticks / this.view.step);
    }

    /** Steps of a bar, and of a beat. */
    get barSteps() {
        return this.view.bar / this.view.step;
    }

    get beatSteps() {
        return this.view.beat / this.view.step;
    }

    get width() {
        return Math.max(this.element.parentElement.clientWidth - 187, this.steps * LEAST_STEP_WIDTH);
    }

    /** A place by bar, beat and sixteenth, and what is left of it. */
    name(step) {
        const { bar, beat, step: size } = this.view;
        const within = step * size % bar % beat;
        const rest = within % SIXTEENTH;

        return `${Math.floor(step * size / bar) + 1}.${Math.floor(step * size % bar / beat) + 1}.${Math.floor(within / SIXTEENTH) + 1}${rest ? ` +${Math.round(rest)}` : ''}`;
    }

    /** Where a tick lies in the picture. */
    at(tick) {
        return tick / (this.steps * this.view.step) * this.width;
    }

    /** Where a written tick is heard, but for what else its feel does: the first half of each pair is stretched by the swing. */
    x(tick) {
        return this.at(swung(tick, this.view));
    }

    /** Where a hit is heard, and how strong. */
    heard(hit) {
        const felt = this.view.felt.get(`${hit.tick} ${hit.pad}`);

        return felt ? { x: this.at(felt.tick), velocity: felt.velocity, felt: true } : { x: this.x(hit.tick), velocity: hit.velocity, felt: false };
    }

    draw() {
        if (!this.element.isConnected) {
            return;
        }
        const width = this.width;
        const height = TOP + ROW * this.view.lanes.length;
        const scale = devicePixelRatio;
        this.element.style.width = `${width}px`;
        this.element.style.height = `${height}px`;
        if (this.canvas.width !== Math.round(width * scale) || this.canvas.height !== Math.round(height * scale)) {
            this.canvas.width = Math.round(width * scale);
            this.canvas.height = Math.round(height * scale);
            this.canvas.style.width = `${width}px`;
            this.canvas.style.height = `${height}px`;
        }
        this.paint();
    }

    /** Draws what stands still, and then what moves. */
    paint() {
        const { width: pixels, height } = this.canvas;
        if (this.#still.width !== pixels || this.#still.height !== height) {
            Object.assign(this.#still, { width: pixels, height });
        }
        const context = this.#still.getContext('2d');
        context.setTransform(devicePixelRatio, 0, 0, devicePixelRatio, 0, 0);
        const width = this.width;
        const cell = width / this.steps;
        context.clearRect(0, 0, width, TOP + ROW * this.view.lanes.length);
        this.#paintGrid(context, width, cell);
        // A folded lane holds several pads, the first of them at its top.
        this.#laneOf = new Map(this.view.lanes.flatMap((lane, i) => lane.pads.map((pad, k) => [pad, [i, lane.folded ? k / Math.max(1, lane.pads.length - 1) : null, lane.roles[k], lane.ticks]])));
        for (const [hit, place] of this.#places()) {
            this.#paintHit(context, hit, { ...place, cell });
        }
        this.#paintDifferences(context, this.#laneOf);
        if (this.element.matches(':focus-visible')) {
            context.strokeStyle = colour('tide');
            context.lineWidth = 2;
            context.strokeRect(this.view.cursor.step * cell + 1, TOP + this.view.cursor.lane * ROW + 1, cell - 2, ROW - 3);
        }
        this.paintMoving();
    }

    /** Where each hit is seen: in its lane, and in each round of a lane that goes round by itself, there fainter. */
    * #places() {
        for (const hit of this.view.hits) {
            const [lane, rank, role, own] = this.#laneOf.get(hit.pad) ?? [];
            if (lane === undefined) {
                continue;
            }
            yield [hit, { lane, rank, role, faint: own && hit.tick >= own ? 0.25 : 1, from: 0 }];
            for (let from = own ?? this.view.ticks; own && hit.tick < own && from + hit.tick < this.view.ticks; from += own) {
                yield [hit, { lane, rank, role, faint: 0.45, from }];
            }
        }
    }

    /** What moves while it plays, over what stands still: the line, and the hits that sound. */
    paintMoving() {
        const context = this.canvas.getContext('2d');
        context.setTransform(1, 0, 0, 1, 0, 0);
        context.clearRect(0, 0, this.canvas.width, this.canvas.height);
        if (this.#still.width > 0 && this.#still.height > 0) {
            context.drawImage(this.#still, 0, 0);
        }
        if (!player.playing || player.what !== 'loop' || player.loop?.section !== this.view.section) {
            return;
        }
        context.setTransform(devicePixelRatio, 0, 0, devicePixelRatio, 0, 0);
        const now = player.ticks() % this.view.ticks;
        const cell = this.width / this.steps;
        for (const [hit, place] of this.#places()) {
            const ago = now - hit.tick - place.from;
            if (ago >= 0 && ago < LIT_TICKS) {
                this.#paintHit(context, hit, { ...place, cell, lit: true });
            }
        }
        context.fillStyle = colour('turmeric');
        context.fillRect(this.at(now), 0, 2, TOP + ROW * this.view.lanes.length);
    }

    /** The frame by which hits are being chosen. */
    paintFrame({ x, y, toX, toY }) {
        const context = this.canvas.getContext('2d');
        context.strokeStyle = colour('tide');
        context.lineWidth = 1.5;
        context.setLineDash([4, 3]);
        context.strokeRect(Math.min(x, toX), Math.min(y, toY), Math.abs(toX - x), Math.abs(toY - y));
        context.setLineDash([]);
    }

    /** What differs from the pattern beside it: only there, an outline; only here, a dot above. */
    #paintDifferences(context, laneOf) {
        if (this.view.beside === null) {
            return;
        }
        const here = new Set(this.view.hits.map((hit) => `${hit.tick} ${hit.pad}`));
        context.strokeStyle = context.fillStyle = colour('paprika');
        context.lineWidth = 1.5;
        for (const { tick, pad, velocity } of this.view.beside.values()) {
            const [lane, rank] = laneOf.get(pad) ?? [];
            if (lane === undefined || rank !== null || here.has(`${tick} ${pad}`)) {
                continue;
            }
            const tall = 5 + (ROW - 13) * velocity / 127;
            context.setLineDash([2, 2]);
            context.strokeRect(this.x(tick) + 3, TOP + (lane + 1) * ROW - 4 - tall, 7, tall);
            context.setLineDash([]);
        }
        for (const hit of this.view.hits) {
            const [lane, rank] = laneOf.get(hit.pad) ?? [];
            if (lane !== undefined && rank === null && !this.view.beside.has(`${hit.tick} ${hit.pad}`)) {
                context.beginPath();
                context.arc(this.heard(hit).x + 6, TOP + lane * ROW + 5, 2, 0, 7);
                context.fill();
            }
        }
    }

    #paintHit(context, hit, { lane, rank, role, cell, faint, from, lit = false }) {
        const heard = this.heard(hit);
        const x = heard.x + this.at(from);
        const full = ROW - 8;
        const tall = (velocity) => (rank === null ? 5 + (full - 5) * velocity / 127 : 5);
        const seed = Math.min(9, cell - 3, this.at(SIXTEENTH) - 3 > 3 ? this.at(SIXTEENTH) - 3 : 9);
        const foot = rank === null ? TOP + (lane + 1) * ROW - 4 : TOP + lane * ROW + 9 + rank * (full - 5);
        const round = Math.min(rank === null ? 3.5 : 2, seed / 2);
        if (heard.felt && rank === null && faint === 1) {
            // As it is written, beside where it is heard.
            context.globalAlpha = 0.5;
            context.strokeStyle = colour('quiet');
            context.lineWidth = 1;
            context.beginPath();
            context.roundRect(this.at(hit.tick) + 2.5, foot - tall(hit.velocity) + 0.5, seed - 1, tall(hit.velocity) - 1, round);
            context.stroke();
        }
        context.globalAlpha = faint * (0.35 + 0.65 * hit.chance / 100);
        context.fillStyle = colour(lit ? 'turmeric' : ROLE_COLOURS[role]);
        const strikes = hit.strikes ?? 1;
        const apart = this.at(hit.length) / strikes;
        for (let i = 0; i < strikes; i += 1) {
            context.beginPath();
            context.roundRect(x + 2 + i * apart, foot - tall(heard.velocity), strikes > 1 ? Math.max(2, Math.min(seed, apart - 1.5)) : seed, tall(heard.velocity), round);
            context.fill();
        }
        context.globalAlpha = 1;
        if (hit.group && from === 0) {
            // Felt apart from its lane.
            context.fillStyle = colour('plum');
            context.fillRect(x + 2, TOP + (lane + 1) * ROW - 3, seed, 2);
        }
        if (from === 0 && (hit === this.view.chosen || this.view.picked.has(`${hit.tick} ${hit.pad}`))) {
            context.strokeStyle = colour('ink');
            context.lineWidth = 1.5;
            context.strokeRect(x + 0.5, TOP + lane * ROW + 3, seed + 3, ROW - 6);
        }
    }

    #paintGrid(context, width, cell) {
        context.font = '12px JetBrains';
        const { beatSteps } = this;
        const perLabel = cell * beatSteps < 34 ? this.view.bar : this.view.beat;
        for (let step = 0; step < this.steps; step += 1) {
            const tick = step * this.view.step;
            context.globalAlpha = tick % this.view.bar % this.view.beat === 0 ? 1 : 0.5;
            context.fillStyle = colour('sunk');
            for (let lane = 0; lane < this.view.lanes.length; lane += 1) {
                context.beginPath();
                context.roundRect(step * cell + 1, TOP + lane * ROW + 2, cell - 2, ROW - 5, Math.min(4, cell / 3));
                context.fill();
            }
            context.globalAlpha = 1;
        }
        for (let tick = 0; tick < this.view.ticks; tick += this.view.beat) {
            const x = this.at(tick);
            if (tick % this.view.bar === 0 && tick > 0) {
                context.fillStyle = colour('line');
                context.fillRect(x - 0.5, TOP, 1, ROW * this.view.lanes.length);
            }
            if (tick % this.view.bar % perLabel === 0) {
                context.fillStyle = colour('quiet');
                context.fillText(perLabel === this.view.bar ? `${Math.floor(tick / this.view.bar) + 1}` : `${Math.floor(tick / this.view.bar) + 1}.${Math.floor(tick % this.view.bar / this.view.beat) + 1}`, x + 2, 13);
            }
        }
        // Where a lane of its own length begins anew.
        this.view.lanes.forEach((own, lane) => {
            if (own.ticks && own.ticks < this.view.ticks) {
                context.fillStyle = colour('tide');
                context.fillRect(this.at(own.ticks) - 1, TOP + lane * ROW + 1, 2, ROW - 4);
            }
        });
        context.fillStyle = colour('line');
        for (let lane = 1; lane <= this.view.lanes.length; lane += 1) {
            context.fillRect(0, TOP + lane * ROW - 1, width, 1);
        }
    }
}
