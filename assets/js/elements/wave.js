// A recording to cut: outline at any zoom, slices as hairlines with numbered tabs, heard by a click.

import { change } from '../changes.js';
import { audition } from '../audio/pads.js';
import { audio } from '../audio/context.js';
import { colour } from '../meters.js';
import { notice } from '../notice.js';

const MAP = 30;
const TABS = 26;
const TAB_WIDTH = 30;
const BASE_FRAMES = 64;
const FACTOR = 8;

class Wave extends HTMLElement {
    static observedAttributes = ['data-markers', 'data-sample'];

    #canvas = document.createElement('canvas');
    #levels = null;
    #close = null;
    #markers = [];
    #from = 0;
    #to = 1;
    #chosen = 0;
    #cursor = 0;
    #drag = null;
    #playing = null;

    connectedCallback() {
        if (!this.shadowRoot) {
            this.attachShadow({ mode: 'open' }).append(this.#canvas);
            this.#canvas.style.cssText = 'width:100%;height:100%;display:block;border-radius:8px;touch-action:none';
            this.#canvas.addEventListener('pointerdown', (event) => this.#down(event));
            this.#canvas.addEventListener('pointermove', (event) => this.#move(event));
            this.#canvas.addEventListener('pointerup', (event) => this.#up(event));
            this.#canvas.addEventListener('dblclick', (event) => this.#add(Math.round(this.#frameAt(event))));
            this.#canvas.addEventListener('wheel', (event) => this.#wheel(event), { passive: false });
            this.addEventListener('keydown', (event) => this.#key(event));
        }
        this.watch = new ResizeObserver(() => this.#draw());
        this.watch.observe(this);
        this.redraw = () => this.#draw();
        this.tools = (event) => this.#tool(event.target.closest?.('[data-wave]')?.dataset.wave);
        document.addEventListener('pestle:theme', this.redraw);
        document.addEventListener('click', this.tools);
        this.#load();
    }

    disconnectedCallback() {
        this.watch.disconnect();
        document.removeEventListener('pestle:theme', this.redraw);
        document.removeEventListener('click', this.tools);
    }

    attributeChangedCallback(name) {
        if (!this.isConnected) {
            return;
        }
        if (name === 'data-sample') {
            queueMicrotask(() => this.#load());
        } else if (!this.#drag) {
            this.#read();
        }
    }

    get #frames() {
        return Number(this.dataset.frames);
    }

    get #rate() {
        return Number(this.dataset.rate);
    }

    async #load() {
        const sample = this.dataset.sample;
        if (this.loaded === sample) {
            this.#read();

            return;
        }
        this.loaded = sample;
        [this.#from, this.#to] = [0, this.#frames];
        this.#chosen = 0;
        this.#levels = null;
        this.#read();
        const response = await fetch(`/samples/${sample}/overview`);
        if (!response.ok || this.loaded !== sample) {
            return;
        }
        const bytes = await response.arrayBuffer();
        const view = new DataView(bytes);
        const count = view.getUint32(0, true);
        let at = 4 + 4 * count;
        this.#levels = Array.from({ length: count }, (_, i) => {
            const size = view.getUint32(4 + 4 * i, true);
            const level = new Int8Array(bytes, at, size);
            at += size;

            return level;
        });
        this.#draw();
    }

    #read() {
        this.#markers = JSON.parse(this.dataset.markers);
        this.#chosen = Math.min(this.#chosen, Math.max(0, this.#markers.length - 1));
        this.#draw();
        this.#tell();
    }

    #size() {
        const box = this.getBoundingClientRect();

        return { width: box.width, height: box.height, top: MAP + 6, bottom: box.height - TABS };
    }

    #x(frame) {
        return (frame - this.#from) / (this.#to - this.#from) * this.#size().width;
    }

    #frameAt(event) {
        const box = this.#canvas.getBoundingClientRect();

        return this.#from + (event.clientX - box.left) / box.width * (this.#to - this.#from);
    }

    #draw() {
        const { width, height, top, bottom } = this.#size();
        if (width < 10 || height < 60) {
            return;
        }
        const scale = devicePixelRatio;
        this.#canvas.width = Math.round(width * scale);
        this.#canvas.height = Math.round(height * scale);
        const context = this.#canvas.getContext('2d');
        context.setTransform(scale, 0, 0, scale, 0, 0);
        context.fillStyle = colour('sunk');
        context.beginPath();
        context.roundRect(0, 0, width, MAP, 6);
        context.roundRect(0, top, width, bottom - top, 8);
        context.fill();
        this.#outline(context, 0, this.#frames, 2, MAP - 2, colour('clay'));
        context.strokeStyle = colour('ink');
        context.strokeRect(this.#from / this.#frames * width + 0.5, 0.5, Math.max(2, (this.#to - this.#from) / this.#frames * width - 1), MAP - 1);
        if (this.#markers.length > 0) {
            const [start, end] = this.#region(this.#chosen);
            context.fillStyle = colour('turmeric');
            context.globalAlpha = 0.28;
            context.fillRect(this.#x(start), top, this.#x(end) - this.#x(start), bottom - top);
            context.globalAlpha = 1;
        }
        this.#outline(context, this.#from, this.#to, top + 4, bottom - 4, colour('ink'));
        this.#slices(context, top, bottom);
        context.fillStyle = colour('tide');
        context.fillRect(this.#x(this.#cursor), top, 1, bottom - top);
        if (this.#playing) {
            context.fillStyle = colour('turmeric');
            context.fillRect(this.#x(this.#playing.frame), top, 2, bottom - top);
        }
    }

    #outline(context, from, to, top, bottom, fill) {
        const { width } = this.#size();
        if (!this.#levels) {
            return;
        }
        const columns = Math.floor(width);
        const perColumn = (to - from) / columns;
        if (perColumn < BASE_FRAMES) {
            this.#closely(context, from, to, top, bottom, fill);

            return;
        }
        let level = 0;
        while (level + 1 < this.#levels.length && BASE_FRAMES * FACTOR ** (level + 1) <= perColumn) {
            level += 1;
        }
        const values = this.#levels[level];
        const frames = BASE_FRAMES * FACTOR ** level;
        const middle = (top + bottom) / 2;
        const half = (bottom - top) / 2 / 127;
        context.fillStyle = fill;
        for (let x = 0; x < columns; x += 1) {
            const first = Math.floor((from + x * perColumn) / frames);
            const last = Math.max(first + 1, Math.floor((from + (x + 1) * perColumn) / frames));
            let low = 0;
            let high = 0;
            for (let p = first; p < last && 2 * p + 1 < values.length; p += 1) {
                low = Math.min(low, values[2 * p]);
                high = Math.max(high, values[2 * p + 1]);
            }
            context.fillRect(x, middle - high * half, 1, Math.max(1, (high - low) * half));
        }
    }

    /** Single frames, fetched for what is in view. */
    #closely(context, from, to, top, bottom, stroke) {
        const first = Math.max(0, Math.floor(from) - 2);
        const count = Math.min(65536, Math.ceil(to - from) + 4);
        if (!this.#close || this.#close.first > first || this.#close.first + this.#close.values.length / 2 < first + count) {
            this.#fetchClose(first, count);
        }
        if (!this.#close) {
            return;
        }
        const middle = (top + bottom) / 2;
        const half = (bottom - top) / 2 / 32768;
        context.strokeStyle = stroke;
        context.lineWidth = 1.5;
        for (const side of [0, 1]) {
            context.globalAlpha = side === 0 ? 1 : 0.45;
            context.beginPath();
            for (let f = first; f < first + count; f += 1) {
                const value = this.#close.values[2 * (f - this.#close.first) + side];
                if (value !== undefined) {
                    context.lineTo(this.#x(f), middle - value * half);
                }
            }
            context.stroke();
        }
        context.globalAlpha = 1;
    }

    async #fetchClose(first, count) {
        const wide = Math.min(65536, count * 3);
        const from = Math.max(0, first - Math.floor((wide - count) / 2));
        const key = `${from}/${wide}`;
        if (this.closeKey === key) {
            return;
        }
        this.closeKey = key;
        const response = await fetch(`/samples/${this.dataset.sample}/frames?from=${from}&count=${wide}`);
        if (response.ok && this.closeKey === key) {
            this.#close = { first: from, values: new Int16Array(await response.arrayBuffer()) };
            this.#draw();
        }
    }

    #slices(context, top, bottom) {
        context.font = '12px JetBrains';
        this.#markers.forEach((frame, i) => {
            const x = this.#x(frame);
            if (x < -TAB_WIDTH || x > this.#size().width) {
                return;
            }
            context.fillStyle = colour('paprika');
            context.fillRect(x, top, 1.3, bottom - top + TABS);
            context.fillStyle = i === this.#chosen ? colour('turmeric') : colour('raised');
            context.strokeStyle = colour('line');
            context.lineWidth = 1;
            context.beginPath();
            context.moveTo(x, bottom + 4);
            context.lineTo(x + TAB_WIDTH, bottom + 4);
            context.lineTo(x + TAB_WIDTH, bottom + 15);
            context.lineTo(x + TAB_WIDTH - 6, bottom + 22);
            context.lineTo(x, bottom + 22);
            context.closePath();
            context.fill();
            context.stroke();
            context.fillStyle = i === this.#chosen ? '#221a08' : colour('ink');
            context.fillText(String(i + 1), x + 6, bottom + 18);
        });
    }

    #region(index) {
        return [this.#markers[index] ?? 0, this.#markers[index + 1] ?? this.#frames];
    }

    #sliceAt(frame) {
        return Math.max(0, this.#markers.findLastIndex((m) => m <= frame));
    }

    #down(event) {
        if (event.button !== 0) {
            return;
        }
        const box = this.#canvas.getBoundingClientRect();
        const [x, y] = [event.clientX - box.left, event.clientY - box.top];
        const { bottom } = this.#size();
        this.focus({ preventScroll: true });
        this.#canvas.setPointerCapture(event.pointerId);
        if (y < MAP) {
            this.#drag = { kind: 'map' };
            this.#scrollTo(x / box.width * this.#frames);
        } else {
            const tab = y > bottom ? this.#markers.findLastIndex((m) => x >= this.#x(m) - 3 && x <= this.#x(m) + TAB_WIDTH) : this.#markers.findIndex((m) => Math.abs(this.#x(m) - x) < 4);
            this.#cursor = Math.round(this.#frameAt(event));
            if (tab >= 0) {
                this.#drag = { kind: 'marker', index: tab, x, y, before: [...this.#markers] };
                this.#chosen = tab;
            } else {
                this.#chosen = this.#sliceAt(this.#cursor);
                this.#play();
            }
        }
        this.#draw();
        this.#tell();
    }

    #move(event) {
        const drag = this.#drag;
        if (!drag) {
            return;
        }
        const box = this.#canvas.getBoundingClientRect();
        if (drag.kind === 'map') {
            this.#scrollTo((event.clientX - box.left) / box.width * this.#frames);
        } else if (drag.moved || Math.hypot(event.clientX - box.left - drag.x, event.clientY - box.top - drag.y) > 3) {
            drag.moved = true;
            // Far below or above the wave means: take it out.
            drag.out = event.clientY > box.bottom + 30 || event.clientY < box.top - 30;
            const [low, high] = [(drag.before[drag.index - 1] ?? -1) + 1, (drag.before[drag.index + 1] ?? this.#frames) - 1];
            this.#markers = [...drag.before];
            this.#markers[drag.index] = Math.round(Math.max(low, Math.min(high, this.#frameAt(event))));
            if (drag.out) {
                this.#markers.splice(drag.index, 1);
            }
        }
        this.#draw();
    }

    #up() {
        const drag = this.#drag;
        this.#drag = null;
        if (drag?.moved) {
            this.#store();
        } else if (drag?.kind === 'marker') {
            this.#play();
        }
    }

    #store() {
        change({ type: 'set-slices', sample: this.dataset.sample, markers: this.#markers, how: 'hand' });
    }

    #add(frame) {
        if (!this.#markers.includes(frame)) {
            this.#markers = [...this.#markers, frame].sort((a, b) => a - b);
            this.#chosen = this.#markers.indexOf(frame);
            this.#store();
            this.#draw();
        }
    }

    #remove() {
        if (this.#markers.length > 0) {
            this.#markers = this.#markers.filter((_, i) => i !== this.#chosen);
            this.#chosen = Math.max(0, this.#chosen - 1);
            this.#store();
            this.#draw();
        }
    }

    async #play(whole = false) {
        const [start, end] = whole || this.#markers.length === 0 ? [0, this.#frames] : this.#region(this.#chosen);
        try {
            const voice = await audition(`/samples/${this.dataset.sample}/sound`, start / this.#rate, (end - start) / this.#rate);
            this.#playing = { voice, frame: start };
            const follow = () => {
                if (this.#playing?.voice !== voice) {
                    return;
                }
                const frame = (audio().currentTime - voice.started) * this.#rate;
                this.#playing = frame >= end ? null : { voice, frame };
                this.#draw();
                if (this.#playing) {
                    requestAnimationFrame(follow);
                }
            };
            follow();
        } catch (problem) {
            notice(problem.message, { bad: true });
        }
    }

    #zoom(factor, around = (this.#from + this.#to) / 2) {
        const span = Math.max(32, Math.min(this.#frames, (this.#to - this.#from) * factor));
        const part = (around - this.#from) / (this.#to - this.#from);
        this.#view(around - part * span, span);
    }

    #scrollTo(centre) {
        const span = this.#to - this.#from;
        this.#view(centre - span / 2, span);
    }

    #view(from, span) {
        this.#from = Math.max(0, Math.min(this.#frames - span, from));
        this.#to = this.#from + span;
        this.#draw();
    }

    #wheel(event) {
        event.preventDefault();
        if (event.ctrlKey || Math.abs(event.deltaY) > Math.abs(event.deltaX)) {
            this.#zoom(1.15 ** Math.sign(event.deltaY), this.#frameAt(event));
        } else {
            const span = this.#to - this.#from;
            this.#view(this.#from + event.deltaX / 800 * span, span);
        }
    }

    #tool(tool) {
        ({
            'zoom-in': () => this.#zoom(0.5),
            'zoom-out': () => this.#zoom(2),
            whole: () => this.#view(0, this.#frames),
            play: () => this.#play(),
            'play-all': () => this.#play(true),
            remove: () => this.#remove(),
        })[tool]?.();
    }

    #key(event) {
        const nudge = event.shiftKey ? 1 : Math.max(1, Math.round((this.#to - this.#from) / 200));
        const keys = {
            ArrowLeft: () => this.#choose(this.#chosen - 1),
            ArrowRight: () => this.#choose(this.#chosen + 1),
            ArrowUp: () => this.#zoom(0.5, this.#cursor),
            ArrowDown: () => this.#zoom(2, this.#cursor),
            Home: () => { this.#cursor = Math.max(0, this.#cursor - nudge); },
            End: () => { this.#cursor = Math.min(this.#frames - 1, this.#cursor + nudge); },
            v: () => this.#play(),
            x: () => (this.#markers.includes(this.#cursor) ? this.#remove() : this.#add(this.#cursor)),
            Delete: () => this.#remove(),
        };
        const act = keys[event.key.length === 1 ? event.key.toLowerCase() : event.key];
        if (act && !event.ctrlKey && !event.metaKey) {
            event.preventDefault();
            act();
            this.#draw();
            this.#tell();
        }
    }

    #choose(index) {
        this.#chosen = Math.max(0, Math.min(this.#markers.length - 1, index));
        this.#cursor = this.#region(this.#chosen)[0];
        if (this.#cursor < this.#from || this.#cursor > this.#to) {
            this.#scrollTo(this.#cursor);
        }
    }

    #tell() {
        const label = document.getElementById('slice-info');
        if (label) {
            const [start, end] = this.#region(this.#chosen);
            label.textContent = this.#markers.length === 0 ? 'No slices yet' : `Slice ${this.#chosen + 1} of ${this.#markers.length} · ${((end - start) / this.#rate).toFixed(3)} s`;
        }
    }
}

customElements.define('pestle-wave', Wave);
