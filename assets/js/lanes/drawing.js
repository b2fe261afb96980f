// How step lanes look: the grid, a seed a hit at its real time, what plays, what is chosen.

import { player } from '../audio/player.js';
import { colour, ROLE_COLOURS } from '../meters.js';

export const TOP = 20;
export const ROW = 33;
export const STEP = 240;
const LEAST_STEP_WIDTH = 9;

export class LanesDrawing {
    /** @param view hits, lanes, cursor, chosen, section, and of the pattern: id, ticks, swing, ticks of a bar and a beat */
    constructor(element, canvas, view) {
        Object.assign(this, { element, canvas, view });
    }

    get steps() {
        return Math.ceil(this.view.ticks / STEP);
    }

    /** Steps of a bar, and of a beat. */
    get barSteps() {
        return this.view.bar / STEP;
    }

    get beatSteps() {
        return this.view.beat / STEP;
    }

    get width() {
        return Math.max(this.element.parentElement.clientWidth - 187, this.steps * LEAST_STEP_WIDTH);
    }

    /** A place by bar, beat and step. */
    name(step) {
        return `${Math.floor(step / this.barSteps) + 1}.${Math.floor(step % this.barSteps / this.beatSteps) + 1}.${step % this.barSteps % this.beatSteps + 1}`;
    }

    /** Where a written tick is heard: the first half of each pair of steps is stretched by the swing. */
    x(tick) {
        const pair = 2 * STEP;
        const within = tick % pair;
        const middle = pair * this.view.swing / 100;
        const place = within < STEP ? within * middle / STEP : middle + (within - STEP) * (pair - middle) / STEP;

        return (tick - within + place) / (this.steps * STEP) * this.width;
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

    paint() {
        const context = this.canvas.getContext('2d');
        context.setTransform(devicePixelRatio, 0, 0, devicePixelRatio, 0, 0);
        const width = this.width;
        const cell = width / this.steps;
        context.clearRect(0, 0, width, TOP + ROW * this.view.lanes.length);
        this.#paintGrid(context, width, cell);
        // A folded lane holds several pads, the first of them at its top.
        const laneOf = new Map(this.view.lanes.flatMap((lane, i) => lane.pads.map((pad, k) => [pad, [i, lane.folded ? k / Math.max(1, lane.pads.length - 1) : null, lane.roles[k]]])));
        const playing = player.playing && player.what === 'loop' && player.loop?.section === this.view.section ? player.ticks() % this.view.ticks : -1;
        for (const hit of this.view.hits) {
            const [lane, rank, role] = laneOf.get(hit.pad) ?? [];
            if (lane === undefined) {
                continue;
            }
            const x = this.x(hit.tick);
            const full = ROW - 8;
            const height = rank === null ? 5 + (full - 5) * hit.velocity / 127 : 5;
            const seed = Math.min(9, cell - 3);
            const foot = rank === null ? TOP + (lane + 1) * ROW - 4 : TOP + lane * ROW + 9 + rank * (full - 5);
            context.globalAlpha = 0.35 + 0.65 * hit.chance / 100;
            context.fillStyle = colour(ROLE_COLOURS[role]);
            if (playing >= hit.tick && playing - hit.tick < 200) {
                context.fillStyle = colour('turmeric');
            }
            context.beginPath();
            context.roundRect(x + 2, foot - height, seed, height, Math.min(rank === null ? 3.5 : 2, seed / 2));
            context.fill();
            context.globalAlpha = 1;
            if (hit === this.view.chosen) {
                context.strokeStyle = colour('ink');
                context.lineWidth = 1.5;
                context.strokeRect(x + 0.5, TOP + lane * ROW + 3, seed + 3, ROW - 6);
            }
        }
        if (playing >= 0) {
            const x = playing / (this.steps * STEP) * width;
            context.fillStyle = colour('turmeric');
            context.fillRect(x, 0, 2, TOP + ROW * this.view.lanes.length);
        }
        if (this.element.matches(':focus-visible')) {
            context.strokeStyle = colour('tide');
            context.lineWidth = 2;
            context.strokeRect(this.view.cursor.step * cell + 1, TOP + this.view.cursor.lane * ROW + 1, cell - 2, ROW - 3);
        }
    }

    #paintGrid(context, width, cell) {
        context.font = '12px JetBrains';
        const { barSteps, beatSteps } = this;
        const perLabel = cell * beatSteps < 34 ? barSteps : beatSteps;
        for (let step = 0; step < this.steps; step += 1) {
            context.globalAlpha = step % barSteps % beatSteps === 0 ? 1 : 0.5;
            context.fillStyle = colour('sunk');
            for (let lane = 0; lane < this.view.lanes.length; lane += 1) {
                context.beginPath();
                context.roundRect(step * cell + 1, TOP + lane * ROW + 2, cell - 2, ROW - 5, Math.min(4, cell / 3));
                context.fill();
            }
            context.globalAlpha = 1;
            if (step % barSteps === 0 && step > 0) {
                context.fillStyle = colour('line');
                context.fillRect(step * cell - 0.5, TOP, 1, ROW * this.view.lanes.length);
            }
            if (step % barSteps % perLabel === 0) {
                context.fillStyle = colour('quiet');
                context.fillText(perLabel === barSteps ? `${step / barSteps + 1}` : `${Math.floor(step / barSteps) + 1}.${Math.floor(step % barSteps / beatSteps) + 1}`, step * cell + 2, 13);
            }
        }
        context.fillStyle = colour('line');
        for (let lane = 1; lane <= this.view.lanes.length; lane += 1) {
            context.fillRect(0, TOP + lane * ROW - 1, width, 1);
        }
    }
}
