// What moves, drawn over the line of time: points are chosen, moved and bent, or drawn with one of the tools.

import { change } from '../changes.js';
import { shareOf, valueAt, valueOf } from '../curve.js';
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
        if (!this.#lane || this.clientWidth === 0) {
            return;
        }
        const [width, height, dots] = [this.clientWidth, this.clientHeight, devicePixelRatio];
        this.#canvas.width = width * dots;
        this.#canvas.height = height * dots;
        const pen = this.#canvas.getContext('2d');
        pen.scale(dots, dots);
        const style = getComputedStyle(this);
        const colour = (name) => style.getPropertyValue(`--${name}`);
        const own = colour(this.#lane.colour) || style.color;
        pen.fillStyle = colour('sunk');
        pen.globalAlpha = 'chosen' in this.dataset ? 0.9 : 0.55;
        for (const [from, ticks] of this.#lane.spans) {
            pen.fillRect(this.#x(from), 1, this.#x(ticks), height - 2);
        }
        pen.globalAlpha = 1;
        pen.globalAlpha = 0.45;
        this.#bars(pen, colour('line'), height);
        pen.globalAlpha = this.#lane.on ? 1 : 0.4;
        pen.strokeStyle = pen.fillStyle = own;
        for (const span of this.#lane.spans) {
            this.#curve(pen, span);
        }
        // Where one that lies further in is heard, this one is not.
        pen.fillStyle = colour('raised');
        pen.globalAlpha = 0.7;
        for (const [from, ticks] of this.#lane.hidden) {
            pen.fillRect(this.#x(from), 0, this.#x(ticks), height);
        }
        pen.globalAlpha = 1;
        if (this.#frame) {
            pen.strokeStyle = colour('turmeric');
            pen.strokeRect(this.#frame.x, this.#frame.y, this.#frame.width, this.#frame.height);
        }
        if ('chosen' in this.dataset && this.#lane.spans.length > 0) {
            this.#scale(pen, colour('quiet'), height);
            this.#handles(pen, this.#lane.spans[0], own, colour('raised'), colour('turmeric'));
        }
    }

    #bars(pen, colour, height) {
        pen.fillStyle = colour;
        const bars = JSON.parse(document.getElementById('time-rows').dataset.bars);
        const every = Math.max(1, Math.ceil(bars.length * 9 / this.clientWidth));
        bars.forEach((tick, i) => i % every === 0 && pen.fillRect(this.#x(tick), 0, 1, height));
    }

    #curve(pen, [from, ticks]) {
        pen.lineWidth = 1.8;
        pen.beginPath();
        const [first, last] = [this.#x(from), this.#x(from + ticks)];
        for (let x = first; x <= last; x += 1) {
            const y = this.#y(valueAt(this.#points, (x - first) / Math.max(1, last - first) * ticks));
            pen[x === first ? 'moveTo' : 'lineTo'](x, y);
        }
        pen.stroke();
    }

    #scale(pen, colour, height) {
        const { least, most, unit } = this.#lane;
        pen.fillStyle = colour;
        pen.font = '12px JetBrains';
        pen.textAlign = 'right';
        pen.fillText(`${Number(most.toPrecision(4))} ${unit}`, this.clientWidth - 4, 14);
        pen.fillText(`${Number(least.toPrecision(4))} ${unit}`, this.clientWidth - 4, height - 6);
    }

    #handles(pen, [from], own, raised, turmeric) {
        this.#points.forEach(([tick, value], i) => {
            pen.beginPath();
            pen.arc(this.#x(from + tick), this.#y(value), 4.5, 0, 7);
            pen.fillStyle = this.#chosen.has(i) ? turmeric : raised;
            pen.fill();
            pen.lineWidth = 1.6;
            pen.strokeStyle = own;
            pen.stroke();
        });
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

    #nudge(ticks, share) {
        if (this.#chosen.size > 0) {
            this.#points = shifted(this.#points, this.#chosen, ticks, share, this.#lane);
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
