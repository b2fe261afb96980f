// Step lanes: a seed a hit, its height the velocity, its place the real timing. A gesture is one change.

import { onFrame } from '../frames.js';
import { change } from '../changes.js';
import { rowsOf } from '../held.js';
import { again, page } from '../page.js';
import { player } from '../audio/player.js';
import { strikePad } from '../hands.js';
import { LanesDrawing, ROW, TOP } from '../lanes/drawing.js';
import { showHit } from '../lanes/hit-panel.js';
import { LanesSelection } from '../lanes/selection.js';

const SIXTEENTH = 240;

class Lanes extends HTMLElement {
    static observedAttributes = ['data-hits-hash', 'data-felt-hash', 'data-beside-hash', 'data-compares', 'data-lanes', 'data-ticks', 'data-bar', 'data-beat', 'data-swing', 'data-swing-on', 'data-pattern', 'data-section'];

    #canvas = document.createElement('canvas');
    #live = document.createElement('div');
    /** Whether a list could not be read, as what it is told against was not known. */
    #missed = false;
    #view = { hits: [], felt: new Map(), beside: null, step: 240, swingOn: 240, lanes: [], cursor: { lane: 0, step: 0 }, chosen: null, picked: new Set(), pattern: '', section: '', ticks: 3840, bar: 3840, beat: 960, swing: 50 };
    #drawing = new LanesDrawing(this, this.#canvas, this.#view);
    #selection = new LanesSelection(this, this.#view, this.#drawing, (...what) => this.#send(...what));
    #drag = null;
    #velocity = 100;
    #due = false;

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
            this.addEventListener('focus', () => this.#drawing.draw());
            this.addEventListener('blur', () => this.#drawing.draw());
        }
        this.watch = new ResizeObserver(() => this.#drawing.draw());
        this.watch.observe(this);
        this.redraw = () => this.#drawing.draw();
        document.addEventListener('pestle:theme', this.redraw);
        let moved = false;
        this.stop = onFrame(() => {
            if (player.playing || moved) {
                this.#drawing.paintMoving();
            }
            moved = player.playing;
        });
        this.panel = (event) => this.#panel(event);
        document.addEventListener('input', this.panel);
        document.addEventListener('change', this.panel);
        this.press = (event) => this.#press(event);
        document.addEventListener('click', this.press);
        // The panel beside the lanes is the page's, which knows nothing of what is chosen.
        // What is asked for anew may say no more than what was known: nothing of this element changes then.
        this.shown = () => (this.#missed ? this.#read() : this.#show());
        document.addEventListener('pestle:page', this.shown);
        this.#read();
    }

    disconnectedCallback() {
        this.watch.disconnect();
        this.stop();
        document.removeEventListener('pestle:theme', this.redraw);
        document.removeEventListener('input', this.panel);
        document.removeEventListener('change', this.panel);
        document.removeEventListener('click', this.press);
        document.removeEventListener('pestle:page', this.shown);
    }

    attributeChangedCallback(name) {
        if (name === 'data-pattern') {
            this.#view.chosen = null;
            this.#view.picked = new Set();
        }
        if (this.isConnected && !this.#due) {
            // Several attributes change together: read them once.
            this.#due = true;
            queueMicrotask(() => { this.#due = false; this.#read(); });
        }
    }

    #read() {
        const [hits, felt, beside] = [rowsOf(this, 'hits'), rowsOf(this, 'felt'), rowsOf(this, 'beside')];
        this.#missed = hits === null || felt === null || beside === null;
        if (this.#missed) {
            again();

            return;
        }
        Object.assign(this.#view, { pattern: this.dataset.pattern, section: this.dataset.section, ticks: Number(this.dataset.ticks), bar: Number(this.dataset.bar), beat: Number(this.dataset.beat), swing: Number(this.dataset.swing), swingOn: Number(this.dataset.swingOn), rules: page()?.rules, step: Number(document.getElementById('lanes-step')?.value ?? SIXTEENTH) });
        this.#view.beside = this.dataset.compares ? new Map(beside.map(([tick, pad, velocity]) => [`${tick} ${pad}`, { tick, pad, velocity }])) : null;
        this.#view.felt = new Map(felt.map(([tick, pad, heard, velocity]) => [`${tick} ${pad}`, { tick: heard, velocity }]));
        this.#view.lanes = JSON.parse(this.dataset.lanes);
        this.#view.hits = hits.map(([tick, pad, velocity, length, chance, fine = 0, fineLength = 0, grade = '', strikes = 1, group = '', thrown = null]) => ({ tick, pad, velocity, length, chance, fine, fineLength, grade, strikes, group, thrown }));
        this.#view.cursor.step = Math.min(this.#view.cursor.step, this.#drawing.steps - 1);
        this.#view.chosen = this.#view.chosen && this.#view.hits.find((h) => h.pad === this.#view.chosen.pad && h.tick === this.#view.chosen.tick);
        this.#view.cursor.lane = Math.min(this.#view.cursor.lane, this.#view.lanes.length - 1);
        this.#drawing.draw();
        this.#show();
    }

    #at(event) {
        const box = this.#canvas.getBoundingClientRect();
        const x = event.clientX - box.left;
        const lane = Math.floor((event.clientY - box.top - TOP) / ROW);
        const step = Math.max(0, Math.min(this.#drawing.steps - 1, Math.floor(x / (this.#drawing.width / this.#drawing.steps))));
        const near = this.#view.hits.filter((h) => h.pad === this.#view.lanes[lane]?.id).find((h) => Math.abs(this.#drawing.heard(h).x + 6 - x) < Math.max(7, this.#drawing.width / this.#drawing.steps / 2 - 1));

        return { lane, step, hit: near ?? this.#inStep(lane, step) };
    }

    #inStep(lane, step) {
        return this.#view.hits.find((h) => h.pad === this.#view.lanes[lane]?.id && Math.round(h.tick / this.#view.step) === step);
    }

    #down(event) {
        const { lane, step, hit } = this.#at(event);
        if (event.button !== 0 || lane < 0 || lane >= this.#view.lanes.length) {
            return;
        }
        if (!event.shiftKey && this.#unfold(lane)) {
            return;
        }
        this.focus({ preventScroll: true });
        try {
            this.#canvas.setPointerCapture(event.pointerId);
        } catch { /* a pointer that is gone already */ }
        if (event.shiftKey) {
            this.#drag = { kind: 'frame', before: this.#view.hits };
            this.#selection.begin(event.offsetX, event.offsetY);

            return;
        }
        this.#selection.choose([]);
        this.#view.cursor = { lane, step };
        const before = this.#view.hits.map((h) => ({ ...h }));
        if (hit) {
            this.#drag = { kind: 'hit', hit, from: { ...hit }, x: event.clientX, y: event.clientY, before };
        } else {
            const placed = this.#put(lane, step);
            this.#drag = { kind: 'paint', lane, placed: [placed], before };
            strikePad(placed.pad, placed.velocity);
        }
        this.#drawing.paint();
    }

    /** A folded lane is opened before something is placed in it. */
    #unfold(lane) {
        const { id, folded } = this.#view.lanes[lane];
        if (folded) {
            document.querySelector(`[data-unfold="${id}"]`)?.click();
        }

        return folded;
    }

    #put(lane, step) {
        const hit = { tick: step * this.#view.step, pad: this.#view.lanes[lane].id, velocity: this.#velocity, length: this.#view.step, chance: 100, strikes: 1 };
        this.#view.hits.push(hit);
        this.#choose(hit);

        return hit;
    }

    #move(event) {
        const drag = this.#drag;
        if (drag?.kind === 'frame') {
            this.#selection.stretch(event.offsetX, event.offsetY);
        } else if (drag?.kind === 'paint') {
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
                const ticks = dx / this.#drawing.width * this.#drawing.steps * this.#view.step;
                drag.hit.tick = Math.max(0, Math.min(this.#view.ticks - 1, Math.round(drag.from.tick + ticks)));
                drag.hit.fine = 0;
                // What is moved is shown where it is put, until the page says where it is heard.
                this.#view.felt.delete(`${drag.hit.tick} ${drag.hit.pad}`);
                this.#choose(drag.hit);
            }
        }
        if (drag) {
            this.#drawing.paint();
            this.#selection.frame && this.#drawing.paintFrame(this.#selection.frame);
        }
    }

    #up(event) {
        const drag = this.#drag;
        this.#drag = null;
        if (!drag) {
            return;
        }
        if (drag.kind === 'frame') {
            this.#selection.end(this.#at(event).hit);
        } else if (drag.kind === 'paint') {
            this.#send('place', drag.placed);
        } else if (drag.way === 'velocity') {
            this.#velocity = drag.hit.velocity;
            this.#send('velocity', [drag.hit]);
        } else if (drag.way === 'timing') {
            this.#send('move', [drag.hit], [drag.from]);
        } else {
            this.#view.hits = this.#view.hits.filter((h) => h !== drag.hit);
            this.#choose(null);
            this.#send('remove', [], [drag.from]);
        }
        this.#drawing.paint();
    }

    #giveUp() {
        if (this.#drag) {
            this.#view.hits = this.#drag.before;
            this.#drag = null;
            this.#choose(null);
        }
        this.#selection.giveUp();
        this.#drawing.paint();
    }

    /** A button for the chosen hits. */
    #press(event) {
        const what = event.target.closest?.('[data-hits-do]')?.dataset.hitsDo;
        if (what) {
            this.#selection[what]();
            this.#drawing.paint();
        }
    }

    #send(gesture, put, take = []) {
        change({
            type: 'edit-hits', pattern: this.dataset.pattern, gesture,
            hits: put.map((h) => [h.tick, h.pad, h.velocity, h.length, h.chance, h.fine ?? 0, h.fineLength ?? 0, h.grade || null, h.strikes, h.group || null, h.thrown ?? null]),
            take: take.map((h) => [h.tick, h.pad]),
        });
    }

    #key(event) {
        const { lane, step } = this.#view.cursor;
        const moves = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0], Home: [0, -this.#drawing.steps], End: [0, this.#drawing.steps] };
        const hit = this.#inStep(lane, step);
        if (event.key === 'Escape') {
            this.#giveUp();
        } else if (this.#selection.key(event)) {
            this.#choose(null);
        } else if (event.shiftKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown') && hit) {
            hit.velocity = Math.max(1, Math.min(127, hit.velocity + (event.key === 'ArrowUp' ? 8 : -8)));
            this.#velocity = hit.velocity;
            this.#choose(hit);
            this.#send('velocity', [hit]);
        } else if (event.key in moves && !event.shiftKey && !event.altKey) {
            this.#view.cursor = {
                lane: Math.max(0, Math.min(this.#view.lanes.length - 1, lane + moves[event.key][0])),
                step: Math.max(0, Math.min(this.#drawing.steps - 1, step + moves[event.key][1])),
            };
            this.#choose(this.#inStep(this.#view.cursor.lane, this.#view.cursor.step) ?? null);
        } else if (event.code === 'KeyT' && hit) {
            // An accent, and none again.
            hit.velocity = hit.velocity > 112 ? 88 : 124;
            this.#choose(hit);
            this.#send('velocity', [hit]);
        } else if (/^Digit[1-8]$/.test(event.code) && event.shiftKey && hit) {
            hit.strikes = Number(event.code.slice(5));
            this.#choose(hit);
            this.#send('length', [hit]);
        } else if (event.code === 'KeyX' || event.key === 'Delete' || event.key === 'Backspace') {
            if (hit) {
                this.#view.hits = this.#view.hits.filter((h) => h !== hit);
                this.#choose(null);
                this.#send('remove', [], [hit]);
            } else if (event.code === 'KeyX' && !this.#unfold(lane)) {
                const placed = this.#put(lane, step);
                strikePad(placed.pad, placed.velocity);
                this.#send('place', [placed]);
            }
        } else {
            return;
        }
        event.preventDefault();
        this.#say();
        this.#drawing.paint();
    }

    #say() {
        const { lane, step } = this.#view.cursor;
        const hit = this.#inStep(lane, step);
        this.#live.textContent = `${this.#view.lanes[lane].name}, ${this.#drawing.name(step)}, ${hit ? `velocity ${hit.velocity}` : 'empty'}`;
    }

    #choose(hit) {
        this.#view.chosen = hit;
        this.#show();
    }

    #show() {
        showHit(this.#view.chosen, this.#view.lanes, this.#drawing);
        this.#selection.show();
    }

    /** A slider of the chosen hit's panel was moved, or another size of steps chosen. */
    #panel(event) {
        if (event.target.id === 'lanes-step') {
            this.#read();

            return;
        }
        const field = event.target.id?.match(/^hit-(velocity|timing|length|strikes|chance)$/)?.[1];
        const hit = this.#view.chosen;
        if (!field || !hit) {
            return;
        }
        const from = this.panelFrom ??= { ...hit };
        const value = Number(event.target.value);
        if (field === 'timing') {
            hit.tick = Math.max(0, Math.round(from.tick / this.#view.step) * this.#view.step + value);
            hit.fine = 0;
        } else {
            Object.assign(hit, field === 'length' ? { length: Math.round(value * SIXTEENTH), fineLength: 0 } : { [field]: value });
        }
        document.getElementById(`hit-${field}-value`).textContent = value;
        this.#drawing.paint();
        if (event.type === 'change') {
            this.panelFrom = null;
            this.#send(field === 'timing' ? 'move' : field === 'strikes' ? 'length' : field, [hit], field === 'timing' ? [from] : []);
        }
    }
}

customElements.define('pestle-lanes', Lanes);
