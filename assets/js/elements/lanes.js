// Step lanes: a seed a hit, its height the velocity, its place the real timing. A gesture is one change.

import { change } from '../changes.js';
import { player } from '../audio/player.js';
import { strikePad } from '../dock.js';
import { colour } from '../meters.js';

const TOP = 20;
const ROW = 33;
const STEP = 240;
const LEAST_STEP_WIDTH = 9;
const ROLE_COLOURS = {
    kick: 'plum', bass: 'plum', snare: 'tide', tonal: 'tide', clap: 'clay', tom: 'clay', hat: 'basil',
    'open-hat': 'basil', percussion: 'basil', cymbal: 'turmeric', voice: 'paprika', effect: 'quiet',
};

class Lanes extends HTMLElement {
    static observedAttributes = ['data-hits', 'data-lanes', 'data-bars', 'data-swing', 'data-pattern'];

    #canvas = document.createElement('canvas');
    #live = document.createElement('div');
    #hits = [];
    #lanes = [];
    #cursor = { lane: 0, step: 0 };
    #chosen = null;
    #drag = null;
    #velocity = 100;
    #due = false;
    #colours = {};

    connectedCallback() {
        if (!this.shadowRoot) {
            const root = this.attachShadow({ mode: 'open' });
            this.#canvas.setAttribute('part', 'canvas');
            this.#canvas.style.cssText = 'display:block;touch-action:none';
            this.#live.setAttribute('aria-live', 'polite');
            this.#live.style.cssText = 'position:absolute;width:1px;height:1px;overflow:hidden;clip-path:inset(50%)';
            root.append(this.#canvas, this.#live);
            this.#canvas.addEventListener('pointerdown', (event) => this.#down(event));
            this.#canvas.addEventListener('pointermove', (event) => this.#move(event));
            this.#canvas.addEventListener('pointerup', (event) => this.#up(event));
            this.#canvas.addEventListener('pointercancel', () => this.#giveUp());
            this.addEventListener('keydown', (event) => this.#key(event));
            this.addEventListener('focus', () => this.#draw());
            this.addEventListener('blur', () => this.#draw());
        }
        this.watch = new ResizeObserver(() => this.#draw());
        this.watch.observe(this);
        this.redraw = () => { this.#colours = {}; this.#draw(); };
        document.addEventListener('pestle:theme', this.redraw);
        this.tick = () => {
            if (player.playing) {
                this.#paint();
            }
            this.timer = requestAnimationFrame(this.tick);
        };
        this.timer = requestAnimationFrame(this.tick);
        this.panel = (event) => this.#panel(event);
        document.addEventListener('input', this.panel);
        document.addEventListener('change', this.panel);
        this.#read();
    }

    disconnectedCallback() {
        this.watch.disconnect();
        cancelAnimationFrame(this.timer);
        document.removeEventListener('pestle:theme', this.redraw);
        document.removeEventListener('input', this.panel);
        document.removeEventListener('change', this.panel);
    }

    attributeChangedCallback(name) {
        if (name === 'data-pattern') {
            this.#chosen = null;
        }
        if (this.isConnected && !this.#due) {
            // Several attributes change together: read them once.
            this.#due = true;
            queueMicrotask(() => { this.#due = false; this.#read(); });
        }
    }

    #read() {
        this.#lanes = JSON.parse(this.dataset.lanes);
        this.#hits = JSON.parse(this.dataset.hits).map(([tick, pad, velocity, length, chance]) => ({ tick, pad, velocity, length, chance }));
        this.#chosen = this.#chosen && this.#hits.find((h) => h.pad === this.#chosen.pad && h.tick === this.#chosen.tick);
        this.#cursor.lane = Math.min(this.#cursor.lane, this.#lanes.length - 1);
        this.#draw();
        this.#showChosen();
    }

    get #steps() {
        return Number(this.dataset.bars) * 16;
    }

    get #width() {
        return Math.max(this.parentElement.clientWidth - 187, this.#steps * LEAST_STEP_WIDTH);
    }

    /** Where a written tick is heard: the first half of each pair of steps is stretched by the swing. */
    #x(tick) {
        const pair = 2 * STEP;
        const within = tick % pair;
        const middle = pair * Number(this.dataset.swing) / 100;
        const place = within < STEP ? within * middle / STEP : middle + (within - STEP) * (pair - middle) / STEP;

        return (tick - within + place) / (this.#steps * STEP) * this.#width;
    }

    #draw() {
        if (!this.isConnected) {
            return;
        }
        const width = this.#width;
        const height = TOP + ROW * this.#lanes.length;
        const scale = devicePixelRatio;
        this.style.width = `${width}px`;
        this.style.height = `${height}px`;
        if (this.#canvas.width !== Math.round(width * scale) || this.#canvas.height !== Math.round(height * scale)) {
            this.#canvas.width = Math.round(width * scale);
            this.#canvas.height = Math.round(height * scale);
            this.#canvas.style.width = `${width}px`;
            this.#canvas.style.height = `${height}px`;
        }
        this.#paint();
    }

    #colour(name) {
        return this.#colours[name] ??= colour(name);
    }

    #paint() {
        const context = this.#canvas.getContext('2d');
        context.setTransform(devicePixelRatio, 0, 0, devicePixelRatio, 0, 0);
        const width = this.#width;
        const cell = width / this.#steps;
        context.clearRect(0, 0, width, TOP + ROW * this.#lanes.length);
        this.#paintGrid(context, width, cell);
        const laneOf = new Map(this.#lanes.map((lane, i) => [lane.id, i]));
        const playing = player.playing && player.what === 'loop' && player.loop?.pattern === this.dataset.pattern ? player.ticks() : -1;
        for (const hit of this.#hits) {
            const lane = laneOf.get(hit.pad);
            if (lane === undefined) {
                continue;
            }
            const x = this.#x(hit.tick);
            const full = ROW - 8;
            const height = 5 + (full - 5) * hit.velocity / 127;
            const seed = Math.min(9, cell - 3);
            context.globalAlpha = 0.35 + 0.65 * hit.chance / 100;
            context.fillStyle = this.#colour(ROLE_COLOURS[this.#lanes[lane].role]);
            if (playing >= hit.tick && playing - hit.tick < 200) {
                context.fillStyle = this.#colour('turmeric');
            }
            context.beginPath();
            context.roundRect(x + 2, TOP + (lane + 1) * ROW - 4 - height, seed, height, Math.min(3.5, seed / 2));
            context.fill();
            context.globalAlpha = 1;
            if (hit === this.#chosen) {
                context.strokeStyle = this.#colour('ink');
                context.lineWidth = 1.5;
                context.strokeRect(x + 0.5, TOP + lane * ROW + 3, seed + 3, ROW - 6);
            }
        }
        if (playing >= 0) {
            const x = playing / (this.#steps * STEP) * width;
            context.fillStyle = this.#colour('turmeric');
            context.fillRect(x, 0, 2, TOP + ROW * this.#lanes.length);
        }
        if (this.matches(':focus-visible')) {
            context.strokeStyle = this.#colour('tide');
            context.lineWidth = 2;
            context.strokeRect(this.#cursor.step * cell + 1, TOP + this.#cursor.lane * ROW + 1, cell - 2, ROW - 3);
        }
    }

    #paintGrid(context, width, cell) {
        context.font = '12px JetBrains';
        const perLabel = cell * 4 < 34 ? 16 : 4;
        for (let step = 0; step < this.#steps; step += 1) {
            context.globalAlpha = step % 4 === 0 ? 1 : 0.5;
            context.fillStyle = this.#colour('sunk');
            for (let lane = 0; lane < this.#lanes.length; lane += 1) {
                context.beginPath();
                context.roundRect(step * cell + 1, TOP + lane * ROW + 2, cell - 2, ROW - 5, Math.min(4, cell / 3));
                context.fill();
            }
            context.globalAlpha = 1;
            if (step % 16 === 0 && step > 0) {
                context.fillStyle = this.#colour('line');
                context.fillRect(step * cell - 0.5, TOP, 1, ROW * this.#lanes.length);
            }
            if (step % perLabel === 0) {
                context.fillStyle = this.#colour('quiet');
                context.fillText(perLabel === 16 ? `${step / 16 + 1}` : `${Math.floor(step / 16) + 1}.${Math.floor(step % 16 / 4) + 1}`, step * cell + 2, 13);
            }
        }
        context.fillStyle = this.#colour('line');
        for (let lane = 1; lane <= this.#lanes.length; lane += 1) {
            context.fillRect(0, TOP + lane * ROW - 1, width, 1);
        }
    }

    #at(event) {
        const box = this.#canvas.getBoundingClientRect();
        const x = event.clientX - box.left;
        const lane = Math.floor((event.clientY - box.top - TOP) / ROW);
        const step = Math.max(0, Math.min(this.#steps - 1, Math.floor(x / (this.#width / this.#steps))));
        const near = this.#hits.filter((h) => h.pad === this.#lanes[lane]?.id).find((h) => Math.abs(this.#x(h.tick) + 6 - x) < Math.max(7, this.#width / this.#steps / 2 - 1));

        return { lane, step, hit: near ?? this.#inStep(lane, step) };
    }

    #inStep(lane, step) {
        return this.#hits.find((h) => h.pad === this.#lanes[lane]?.id && Math.round(h.tick / STEP) === step);
    }

    #down(event) {
        const { lane, step, hit } = this.#at(event);
        if (event.button !== 0 || lane < 0 || lane >= this.#lanes.length) {
            return;
        }
        this.focus({ preventScroll: true });
        try {
            this.#canvas.setPointerCapture(event.pointerId);
        } catch { /* a pointer that is gone already */ }
        this.#cursor = { lane, step };
        const before = this.#hits.map((h) => ({ ...h }));
        if (hit) {
            this.#drag = { kind: 'hit', hit, from: { ...hit }, x: event.clientX, y: event.clientY, before };
        } else {
            const placed = this.#put(lane, step);
            this.#drag = { kind: 'paint', lane, placed: [placed], before };
            strikePad(placed.pad, placed.velocity);
        }
        this.#paint();
    }

    #put(lane, step) {
        const hit = { tick: step * STEP, pad: this.#lanes[lane].id, velocity: this.#velocity, length: STEP, chance: 100 };
        this.#hits.push(hit);
        this.#choose(hit);

        return hit;
    }

    #move(event) {
        const drag = this.#drag;
        if (drag?.kind === 'paint') {
            const { step } = this.#at(event);
            if (!this.#inStep(drag.lane, step)) {
                drag.placed.push(this.#put(drag.lane, step));
            }
        } else if (drag) {
            const dx = event.clientX - drag.x;
            const dy = drag.y - event.clientY;
            drag.way ??= Math.hypot(dx, dy) < 4 ? undefined : Math.abs(dx) > Math.abs(dy) ? 'timing' : 'velocity';
            if (drag.way === 'velocity') {
                drag.hit.velocity = Math.max(1, Math.min(127, Math.round(drag.from.velocity + dy)));
                this.#choose(drag.hit);
            } else if (drag.way === 'timing') {
                const ticks = dx / this.#width * this.#steps * STEP;
                drag.hit.tick = Math.max(0, Math.min(this.#steps * STEP - 1, Math.round(drag.from.tick + ticks)));
                this.#choose(drag.hit);
            }
        }
        if (drag) {
            this.#paint();
        }
    }

    #up() {
        const drag = this.#drag;
        this.#drag = null;
        if (!drag) {
            return;
        }
        if (drag.kind === 'paint') {
            this.#send('place', drag.placed);
        } else if (drag.way === 'velocity') {
            this.#velocity = drag.hit.velocity;
            this.#send('velocity', [drag.hit]);
        } else if (drag.way === 'timing') {
            this.#send('move', [drag.hit], [drag.from]);
        } else {
            this.#hits = this.#hits.filter((h) => h !== drag.hit);
            this.#choose(null);
            this.#send('remove', [], [drag.from]);
        }
        this.#paint();
    }

    #giveUp() {
        if (this.#drag) {
            this.#hits = this.#drag.before;
            this.#drag = null;
            this.#choose(null);
            this.#paint();
        }
    }

    #send(gesture, put, take = []) {
        change({
            type: 'edit-hits', pattern: this.dataset.pattern, gesture,
            hits: put.map((h) => [h.tick, h.pad, h.velocity, h.length, h.chance]),
            take: take.map((h) => [h.tick, h.pad]),
        });
    }

    #key(event) {
        const { lane, step } = this.#cursor;
        const moves = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0], Home: [0, -this.#steps], End: [0, this.#steps] };
        const hit = this.#inStep(lane, step);
        if (event.key === 'Escape') {
            this.#giveUp();
        } else if (event.shiftKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown') && hit) {
            hit.velocity = Math.max(1, Math.min(127, hit.velocity + (event.key === 'ArrowUp' ? 8 : -8)));
            this.#velocity = hit.velocity;
            this.#choose(hit);
            this.#send('velocity', [hit]);
        } else if (event.key in moves && !event.shiftKey) {
            this.#cursor = {
                lane: Math.max(0, Math.min(this.#lanes.length - 1, lane + moves[event.key][0])),
                step: Math.max(0, Math.min(this.#steps - 1, step + moves[event.key][1])),
            };
            this.#choose(this.#inStep(this.#cursor.lane, this.#cursor.step) ?? null);
        } else if (event.code === 'KeyX' || event.key === 'Delete' || event.key === 'Backspace') {
            if (hit) {
                this.#hits = this.#hits.filter((h) => h !== hit);
                this.#choose(null);
                this.#send('remove', [], [hit]);
            } else if (event.code === 'KeyX') {
                const placed = this.#put(lane, step);
                strikePad(placed.pad, placed.velocity);
                this.#send('place', [placed]);
            }
        } else {
            return;
        }
        event.preventDefault();
        this.#say();
        this.#paint();
    }

    #say() {
        const { lane, step } = this.#cursor;
        const hit = this.#inStep(lane, step);
        const at = `${Math.floor(step / 16) + 1}.${Math.floor(step % 16 / 4) + 1}.${step % 4 + 1}`;
        this.#live.textContent = `${this.#lanes[lane].name}, ${at}, ${hit ? `velocity ${hit.velocity}` : 'empty'}`;
    }

    #choose(hit) {
        this.#chosen = hit;
        this.#showChosen();
    }

    /** Fills the panel of the chosen hit. */
    #showChosen() {
        const hit = this.#chosen;
        const name = document.getElementById('hit-name');
        if (!name) {
            return;
        }
        const step = hit && Math.round(hit.tick / STEP) % this.#steps;
        name.textContent = hit
            ? `${this.#lanes.find((l) => l.id === hit.pad)?.name ?? 'Hit'}, ${Math.floor(step / 16) + 1}.${Math.floor(step % 16 / 4) + 1}.${step % 4 + 1}`
            : 'No hit chosen';
        const values = hit ? { velocity: hit.velocity, timing: hit.tick - Math.round(hit.tick / STEP) * STEP, length: hit.length / STEP, chance: hit.chance } : {};
        for (const field of ['velocity', 'timing', 'length', 'chance']) {
            const range = document.getElementById(`hit-${field}`);
            range.disabled = !hit;
            document.getElementById(`hit-${field}-value`).textContent = hit ? values[field] : '–';
            if (hit) {
                range.value = values[field];
            }
            range.style.setProperty('--fill', `${hit ? (range.value - range.min) / (range.max - range.min) * 100 : 0}%`);
        }
    }

    /** A slider of the chosen hit's panel was moved. */
    #panel(event) {
        const field = event.target.id?.match(/^hit-(velocity|timing|length|chance)$/)?.[1];
        const hit = this.#chosen;
        if (!field || !hit) {
            return;
        }
        const from = this.panelFrom ??= { ...hit };
        const value = Number(event.target.value);
        if (field === 'timing') {
            hit.tick = Math.max(0, Math.round(from.tick / STEP) * STEP + value);
        } else {
            hit[field] = field === 'length' ? Math.round(value * STEP) : value;
        }
        document.getElementById(`hit-${field}-value`).textContent = value;
        this.#paint();
        if (event.type === 'change') {
            this.panelFrom = null;
            this.#send(field === 'timing' ? 'move' : field, [hit], field === 'timing' ? [from] : []);
        }
    }
}

customElements.define('pestle-lanes', Lanes);
