// What is known of a recording's outline: overview levels for every zoom, and single frames for what is in view.

const BASE_FRAMES = 64;
const FACTOR = 8;
const MOST_CLOSE = 65536;

export class WaveData {
    #levels = null;
    #close = null;
    #wanted = '';

    constructor(sample, edits, changed) {
        this.sample = sample;
        this.edits = edits;
        this.changed = changed;
        this.#load();
    }

    /** Address of something about the recording as it is now. */
    url(what, parameters = {}) {
        const query = new URLSearchParams(parameters);
        if (this.edits) {
            query.set('edits', this.edits);
        }

        return `/samples/${this.sample}/${what}${query.size > 0 ? `?${query}` : ''}`;
    }

    async #load() {
        const response = await fetch(this.url('overview'));
        if (!response.ok) {
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
        this.changed();
    }

    /** Whether a zoom, in frames a pixel, shows single frames. */
    isClose(perPixel) {
        return perPixel < BASE_FRAMES;
    }

    /** Lowest and highest value (−127 to 127) of each pixel from a frame on; null until they are here. */
    columns(from, perPixel, count) {
        if (!this.#levels) {
            return null;
        }
        let level = 0;
        while (level + 1 < this.#levels.length && BASE_FRAMES * FACTOR ** (level + 1) <= perPixel) {
            level += 1;
        }
        const values = this.#levels[level];
        const frames = BASE_FRAMES * FACTOR ** level;
        const out = new Int8Array(2 * count);
        for (let x = 0; x < count; x += 1) {
            const first = Math.floor((from + x * perPixel) / frames);
            const last = Math.max(first + 1, Math.floor((from + (x + 1) * perPixel) / frames));
            for (let p = first; p < last && 2 * p + 1 < values.length; p += 1) {
                out[2 * x] = Math.min(out[2 * x], values[2 * p]);
                out[2 * x + 1] = Math.max(out[2 * x + 1], values[2 * p + 1]);
            }
        }

        return out;
    }

    /** Single frames, left and right by turns: {first, values}; asks for them when they are not here. */
    frames(first, count) {
        if (!this.#close || this.#close.first > first || this.#close.first + this.#close.values.length / 2 < first + count) {
            this.#fetch(first, count);
        }

        return this.#close;
    }

    async #fetch(first, count) {
        const wide = Math.min(MOST_CLOSE, count * 3);
        const from = Math.max(0, first - Math.floor((wide - count) / 2));
        const url = this.url('frames', { from, count: wide });
        if (this.#wanted === url) {
            return;
        }
        this.#wanted = url;
        const response = await fetch(url);
        if (response.ok && this.#wanted === url) {
            this.#close = { first: from, values: new Int16Array(await response.arrayBuffer()) };
            this.changed();
        }
    }
}
