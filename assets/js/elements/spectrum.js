// What lies where in the sound of a line, as PHP computed it with the sound: now while it plays, and on the whole; another line beside it.

import { onFrame } from '../frames.js';
import { player } from '../audio/player.js';
import { colour } from '../meters.js';
import { onPage, page } from '../page.js';
import { askMeasured } from '../patient.js';
import { fill } from '../sized.js';

const BANDS = 60;
/** Of what is stored from 0 to 255 for −100 to +2 dB, what is drawn: −80 to −16. */
const FLOOR = 50;
const TOP = 210;
const SOON = 250;

/** Spectra by beat, version, section and line: {every, segments, mean}. */
const known = new Map();

const bytes = (text) => Uint8Array.from(atob(text), (c) => c.charCodeAt(0));

async function fetchLines(lines, signal) {
    const now = page();
    const name = (line) => [now.beat, now.head, now.section, line].join();
    const wanted = lines.filter((line) => !known.has(name(line)));
    if (wanted.length > 0) {
        const { problem, answer } = await askMeasured(`/beats/${now.beat}/spectrum?what=${now.section}&lines=${encodeURIComponent(wanted.join(' '))}`, signal);
        if (problem) {
            return null;
        }
        for (const [line, { mean, segments }] of Object.entries(answer.lines ?? {})) {
            known.set(name(line), { every: answer.every, segments: segments.map(bytes), mean: bytes(mean) });
        }
        while (known.size > 24) {
            known.delete(known.keys().next().value);
        }
    }

    return lines.map((line) => known.get(name(line)) ?? null);
}

class Spectrum extends HTMLElement {
    #lines = [];
    #asked = '';
    /** Ends the question that is on its way: a browser has but six lines to one server, and pages need one. */
    #asking = new AbortController();
    #drawn = '';
    /** What is drawn falls no faster than the eye follows. */
    #fallen = new Float32Array(BANDS);

    connectedCallback() {
        this.refresh = () => this.#ask();
        onPage(this.refresh);
        this.#ask();
        this.stop = onFrame(() => this.#draw());
    }

    disconnectedCallback() {
        this.stop();
        document.removeEventListener('pestle:page', this.refresh);
        this.#asking.abort();
        this.#asked = '';
    }

    get against() {
        return this.closest('.route').querySelector('[data-spectrum-beside]')?.value ?? '';
    }

    #ask() {
        if (!this.isConnected) {
            return;
        }
        const lines = [this.dataset.line, this.against].filter((line) => line !== '');
        const asked = [page().beat, page().head, page().section, ...lines].join();
        if (asked === this.#asked) {
            return;
        }
        this.#asked = asked;
        this.#asking.abort();
        const { signal } = this.#asking = new AbortController();
        // A slider that is moved makes many versions: only the last is asked for.
        setTimeout(async () => {
            if (asked === this.#asked && this.isConnected) {
                const found = await fetchLines(lines, signal).catch(() => null);
                if (!signal.aborted) {
                    this.#lines = found ?? [];
                    this.#drawn = '';
                }
            }
        }, SOON);
    }

    #draw() {
        const canvas = this.querySelector('canvas');
        const emptied = fill(canvas, this);
        const { width, height } = canvas;
        const now = player.meters();
        const frame = player.what === 'loop' ? player.position() : -1;
        const own = this.#lines[0];
        // Of a long section only the beginning is there.
        const at = own && now && frame >= 0 && frame < own.segments.length * own.every ? Math.floor(frame / own.every) : -1;
        const key = [at, colour('ink'), this.#asked].join();
        if ((key === this.#drawn && at < 0 && !emptied) || width === 0 || height === 0) {
            return;
        }
        this.#drawn = key;
        const context = canvas.getContext('2d');
        context.clearRect(0, 0, width, height);
        if (!own) {
            return;
        }
        const y = (value) => height * (1 - Math.max(0, Math.min(1, (value - FLOOR) / (TOP - FLOOR))));
        const line = (values) => {
            context.beginPath();
            values.forEach((value, b) => context.lineTo((b + 0.5) * width / BANDS, y(value)));
        };
        const area = (values, ink, alpha) => {
            line(values);
            context.lineTo(width, height);
            context.lineTo(0, height);
            context.globalAlpha = alpha;
            context.fillStyle = colour(ink);
            context.fill();
            context.globalAlpha = 1;
        };
        area(own.mean, 'quiet', 0.22);
        if (at >= 0) {
            const bands = own.segments[at];
            for (let b = 0; b < BANDS; b += 1) {
                this.#fallen[b] = Math.max(bands[b] ?? 0, this.#fallen[b] - 6);
            }
            area([...this.#fallen], 'basil', 0.45);
        }
        const beside = this.#lines[1];
        if (beside) {
            line(beside.mean);
            context.strokeStyle = colour('paprika');
            context.lineWidth = 1.5 * devicePixelRatio;
            context.stroke();
        }
    }
}
customElements.define('pestle-spectrum', Spectrum);

document.addEventListener('change', (event) => {
    if (event.target.matches('[data-spectrum-beside]')) {
        event.target.closest('.route').querySelector('pestle-spectrum').refresh();
    }
});
