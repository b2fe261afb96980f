// What moves, drawn over the line of time: points are chosen, moved and bent, or drawn with one of the tools.

import { change } from '../changes.js';
import { shareOf, valueOf } from '../curve.js';
import { drawMoves } from '../moves/drawing.js';
import { drawn, shifted } from '../moves/tools.js';
import { goTo, onPage } from '../page.js';

const PAD = 7;
const NEAR = 9;
let tool = 'points';

export function setTool(name) {
    tool = name;
}

function snap(what) {
    return document.querySelector(`[data-snap=${what}]`)?.value ?? '0';
}

class Moves extends HTMLElement {
    #lane = null;
    #points = [];
    #chosen = new Set();
    /** While something is drawn: the frame around what is to be chosen, or what was drawn by hand. */
    #frame = null;
    /** In hand: what comes from elsewhere meanwhile waits. */
    #held = false;
    #canvas = document.createElement('canvas');
    #sized = new ResizeObserver(() => this.draw());

    connectedCallback() {
        this.append(this.#canvas);
        this.#canvas.setAttribute('aria-hidden', 'true');
        this.refresh = () => this.#read();
        onPage(this.refresh);
        document.addEventListener('pestle:theme', this.refresh);
        this.addEventListener('pointerdown', (event) => this.#press(event));
        this.addEventListener('dblclick', (event) => this.#add(event));
        this.addEventListener('keydown', (event) => this.#key(event));
        this.addEventListener('focus', () => this.#open());
        this.#sized.observe(this);
        this.#read();
    }

    disconnectedCallback() {
        document.removeEventListener('pestle:page', this.refresh);
        document.removeEventListener('pestle:theme', this.refresh);
        this.#sized.disconnect();
    }

    get lane() {
        return this.#lane;
    }

    get points() {
        return this.#points;
    }

    /** Numbers of the chosen points, in order. */
    get chosen() {
        return [...this.#chosen].sort((a, b) => a - b);
    }

    #read() {
        if (this.#held) {
            return;
        }
        if (!this.contains(this.#canvas)) {
            this.append(this.#canvas);
        }
        const other = this.#lane?.id;
        this.#lane = JSON.parse(this.dataset.lane);
        this.#points = this.#lane.points;
        if (other !== this.#lane.id) {
            this.#chosen = new Set();
        }
        this.#chosen = new Set([...this.#chosen].filter((i) => i < this.#points.length));
        this.draw();
        this.#tell();
    }

    /** A lane that is not the chosen one becomes it. */
    async #open() {
        if (!('chosen' in this.dataset)) {
            await goTo(this.dataset.url);
        }
    }

    get #ticks() {
        return Number(document.getElementById('time-rows')?.dataset.ticks ?? 1);
    }

    #x(tick) {
        return tick / this.#ticks * this.clientWidth;
    }

    #y(value) {
        return PAD + (1 - shareOf(this.#lane, value)) * (this.clientHeight - 2 * PAD);
    }

    /** Tick of the movement itself, value and span at a place of the screen. */
    #at({ clientX, clientY }, inSpan = null) {
        const box = this.getBoundingClientRect();
        const tick = (clientX - box.left) / box.width * this.#ticks;
        const span = inSpan ?? this.#lane.spans.find(([from, ticks]) => tick >= from && tick < from + ticks) ?? this.#lane.spans[0] ?? [0, this.#ticks];
        const share = 1 - (clientY - box.top - PAD) / (box.height - 2 * PAD);

        return { tick: Math.max(0, Math.min(span[1], tick - span[0])), value: this.#snapped(valueOf(this.#lane, share)), span };
    }

    #inTime(tick) {
        const grid = Number(snap('time'));

        return grid ? Math.round(tick / grid) * grid : Math.round(tick * 100) / 100;
    }

    #snapped(value) {
        const by = snap('value');
        const { least, most, places } = this.#lane;
        if (by === 'unit') {
            return Math.max(least, Math.min(most, Math.round(value)));
        }

        return Number(by) ? valueOf(this.#lane, Math.round(shareOf(this.#lane, value) * by) / by) : Number(value.toFixed(places + 2));
    }

    draw() {
        if (this.#lane && this.clientWidth > 0) {
            const bars = JSON.parse(document.getElementById('time-rows').dataset.bars);
            drawMoves(this.#canvas, this, { lane: this.#lane, points: this.#points, chosen: this.#chosen, frame: this.#frame, bars, x: (tick) => this.#x(tick), y: (value) => this.#y(value) });
        }
    }

    /** The point under a place of the screen, or -1. */
    #under({ clientX, clientY }) {
        const box = this.getBoundingClientRect();
        const [from] = this.#lane.spans[0] ?? [0];

        return this.#points.findIndex(([tick, value]) => Math.hypot(this.#x(from + tick) - clientX + box.left, this.#y(value) - clientY + box.top) <= NEAR);
    }

    async #press(event) {
        if (event.button !== 0) {
            return;
        }
        if (!('chosen' in this.dataset)) {
            return;
        }
        event.preventDefault();
        this.focus();
        this.setPointerCapture(event.pointerId);
        const before = this.#points;
        this.#held = true;
        const start = this.#at(event);
        const steps = tool === 'points' ? this.#choosing(event, start) : this.#drawing(start);
        steps.move?.(event);
        const move = (e) => {
            steps.move?.(e);
            this.draw();
            this.#tell();
        };
        const giveUp = (e) => {
            if (e.key === 'Escape') {
                this.#points = before;
                end();
                this.#read();
            }
        };
        const end = () => {
            removeEventListener('keydown', giveUp);
            this.removeEventListener('pointermove', move);
            this.#frame = null;
            this.#held = false;
            this.draw();
            this.#tell();
        };
        this.addEventListener('pointermove', move);
        addEventListener('keydown', giveUp);
        this.addEventListener('pointerup', async () => {
            end();
            if (steps.written) {
                await change({ type: 'write-movement', ...this.#fields(), points: steps.written() });
            } else if (this.#points !== before) {
                await this.#keep();
            } else {
                this.#read();
            }
        }, { once: true });
    }

    /** Points: what is pressed is chosen and moved along; beside them a frame chooses; with Alt the way under it is bent. */
    #choosing(event, start) {
        const under = this.#under(event);
        if (under < 0 && event.altKey) {
            return this.#bending(start, event.clientY);
        }
        if (under < 0) {
            const [x, y] = [event.clientX, event.clientY];
            const box = this.getBoundingClientRect();
            const [from] = this.#lane.spans[0] ?? [0];
            const kept = event.shiftKey ? new Set(this.#chosen) : new Set();

            return { move: (e) => {
                this.#frame = { x: Math.min(x, e.clientX) - box.left, y: Math.min(y, e.clientY) - box.top, width: Math.abs(e.clientX - x), height: Math.abs(e.clientY - y) };
                const inside = ([tick, value]) => this.#x(from + tick) >= this.#frame.x && this.#x(from + tick) <= this.#frame.x + this.#frame.width && this.#y(value) >= this.#frame.y && this.#y(value) <= this.#frame.y + this.#frame.height;
                this.#chosen = new Set([...kept, ...this.#points.flatMap((point, i) => (inside(point) ? [i] : []))]);
            } };
        }
        if (!this.#chosen.has(under)) {
            this.#chosen = event.shiftKey ? new Set([...this.#chosen, under]) : new Set([under]);
        }
        const was = this.#points;
        const [tick, value] = was[under];
        let moved = false;

        return { move: (e) => {
            moved = moved || Math.hypot(e.clientX - event.clientX, e.clientY - event.clientY) > 3;
            if (!moved) {
                return;
            }
            const to = this.#at(e, start.span);
            this.#points = shifted(was, this.#chosen, this.#inTime(to.tick) - tick, shareOf(this.#lane, to.value) - shareOf(this.#lane, value), this.#lane);
        } };
    }

    #bending(start, y) {
        const was = this.#points;
        const at = was.findLastIndex(([tick]) => tick <= start.tick);
        if (at < 0 || at + 1 >= was.length) {
            return {};
        }
        const up = was[at + 1][1] > was[at][1] ? 1 : -1;

        return { move: (e) => {
            const bend = Math.max(-0.95, Math.min(0.95, was[at][2] + up * (e.clientY - y) / 60));
            this.#points = was.map((point, i) => (i === at ? [point[0], point[1], Math.abs(bend) < 0.05 ? 0 : Number(bend.toFixed(2))] : point));
        } };
    }

    #drawing(start) {
        const { draw, raw } = drawn(tool, { was: this.#points, start, grid: Number(snap('time')) || 240, inTime: (tick) => this.#inTime(tick), set: this.#lane.set });

        return {
            move: (e) => { this.#points = draw(this.#at(e, start.span)); },
            // A hand draws many points, of which PHP keeps few.
            ...(tool === 'hand' ? { written: () => raw } : {}),
        };
    }

    #add(event) {
        if (tool === 'points' && 'chosen' in this.dataset && this.#under(event) < 0) {
            const { tick, value } = this.#at(event);
            this.#insert(this.#inTime(tick), value);
        }
    }

    #insert(tick, value) {
        const at = this.#points.filter(([t]) => t <= tick).length;
        this.#points = [...this.#points.slice(0, at), [tick, value, 0], ...this.#points.slice(at)];
        this.#chosen = new Set([at]);
        this.#keep();
    }

    #key(event) {
        if (event.ctrlKey || event.metaKey || !('chosen' in this.dataset)) {
            return;
        }
        const { key, shiftKey } = event;
        const [first] = this.chosen;
        const share = (shiftKey ? 0.005 : 0.04) * (key === 'ArrowDown' ? -1 : 1);
        const step = Number(snap('time')) || 60;
        const does = {
            ArrowLeft: () => { this.#chosen = new Set([Math.max(0, (first ?? 1) - 1)]); },
            ArrowRight: () => { this.#chosen = new Set([Math.min(this.#points.length - 1, (first ?? -1) + 1)]); },
            ArrowUp: () => this.#nudge(0, share),
            ArrowDown: () => this.#nudge(0, share),
            ',': () => this.#nudge(-step, 0),
            '.': () => this.#nudge(step, 0),
            n: () => this.#insert(this.#inTime((this.#points[first]?.[0] ?? 0) + Math.max(step, 960)), this.#points[first]?.[1] ?? this.#lane.set),
            Delete: () => this.removeChosen(),
            Backspace: () => this.removeChosen(),
            Escape: () => { this.#chosen = new Set(); },
        };
        if (key in does) {
            event.preventDefault();
            event.stopPropagation();
            does[key]();
            this.draw();
            this.#tell();
        }
    }

    /** A value that was moved by a key, on the snap: the next one on that way at least. */
    #nextSnapped(was, value, way) {
        const by = snap('value');
        const to = this.#snapped(value);
        if (!(by === 'unit' || Number(by)) || to !== this.#snapped(was)) {
            return to;
        }

        return by === 'unit' ? this.#snapped(Math.round(was) + way) : this.#snapped(valueOf(this.#lane, (Math.round(shareOf(this.#lane, was) * by) + way) / by));
    }

    #nudge(ticks, share) {
        if (this.#chosen.size > 0) {
            const before = this.#points;
            this.#points = shifted(before, this.#chosen, ticks, share, this.#lane).map((p, i) => (share && this.#chosen.has(i) ? [p[0], this.#nextSnapped(before[i][1], p[1], Math.sign(share)), p[2]] : p));
            this.#keep();
        }
    }

    /** Takes the chosen points away; the last one stays. */
    removeChosen() {
        const left = this.#points.filter((_, i) => !this.#chosen.has(i));
        if (this.#chosen.size > 0 && left.length > 0) {
            this.#points = left;
            this.#chosen = new Set();
            this.#keep();
        }
    }

    /** Sets something of all chosen points: 0 their tick, 1 their value, 2 their bend. */
    set(what, value) {
        this.#points = this.#points.map((point, i) => (this.#chosen.has(i) ? point.map((was, k) => (k === what ? value : was)) : point)).sort((a, b) => a[0] - b[0]);
        this.#keep();
    }

    #fields() {
        const { path, scope, of } = this.#lane;

        return { path, scope, of };
    }

    async #keep() {
        const points = this.#points;
        if (!await change({ type: 'set-movement', ...this.#fields(), points })) {
            this.#read();
        }
    }

    #tell() {
        if ('chosen' in this.dataset) {
            document.dispatchEvent(new CustomEvent('pestle:points', { detail: this }));
        }
    }
}

customElements.define('pestle-moves', Moves);
