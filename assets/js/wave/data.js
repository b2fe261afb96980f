// What is known of a recording's outline: tiles of the overview for what is in view, and single frames when very near.

import { patiently } from '../patient.js';

const BASE_FRAMES = 64;
const FACTOR = 8;
const TILE = 4096;
const COARSEST_PAIRS = 512;
const MOST_CLOSE = 65536;
const ASK_EVERY_MS = 500;

export class WaveData {
    /** Tiles by level and number; null while one is on its way. */
    #tiles = new Map();
    #close = null;
    #wanted = '';
    #levels = 1;
    #sides = 1;
    /** How far its edits are being worked out, 0 to 1; null when they are not, or nobody knows. */
    progress = null;
    #asking = null;

    constructor(sample, edits, length, changed) {
        Object.assign(this, { sample, edits, length, changed });
        for (let pairs = Math.ceil(length / BASE_FRAMES); pairs > COARSEST_PAIRS; pairs = Math.ceil(pairs / FACTOR)) {
            this.#levels += 1;
        }
    }

    /** Address of something about the recording as it is now. */
    url(what, parameters = {}) {
        const query = new URLSearchParams(parameters);
        if (this.edits) {
            query.set('edits', this.edits);
        }

        return `/samples/${this.sample}/${what}${query.size > 0 ? `?${query}` : ''}`;
    }

    async #fetchTile(name) {
        this.#tiles.set(name, null);
        if (this.edits && this.#tiles.size === 1) {
            this.#asking = setInterval(() => this.#askProgress(), ASK_EVERY_MS);
        }
        const response = await patiently(this.url(`outline/${name}`), (progress) => this.#tell(progress)).finally(() => this.#endAsking());
        if (response.ok) {
            const bytes = await response.arrayBuffer();
            this.#sides = new Int8Array(bytes)[0];
            this.#tiles.set(name, new Int8Array(bytes, 1));
            this.changed();
        }
    }

    #tell(progress) {
        this.progress = progress ?? this.progress;
        this.changed();
    }

    #endAsking() {
        clearInterval(this.#asking);
        this.#asking = null;
        this.progress = null;
    }

    async #askProgress() {
        // Should it not be told, the outline will say so as well.
        const answer = await fetch(this.url('progress')).then((response) => (response.ok ? response.json() : null), () => null);
        // One that comes late is of no use any more.
        if (answer && this.#asking !== null) {
            this.progress = answer.progress ?? this.progress;
            this.changed();
        }
    }

    #tile(level, number) {
        const name = `${level}/${number}`;
        if (!this.#tiles.has(name)) {
            this.#fetchTile(name);
        }

        return this.#tiles.get(name);
    }

    /** Whether a zoom, in frames a pixel, shows single frames. */
    isClose(perPixel) {
        return perPixel < BASE_FRAMES;
    }

    /** Whether its two sides differ; known with the first tile. */
    get sides() {
        return this.#sides;
    }

    /** Lowest and highest value (−127 to 127) of each pixel from a frame on, of one side or of all; null while nothing of it is here. */
    columns(from, perPixel, count, side = null) {
        let level = 0;
        while (level + 1 < this.#levels && BASE_FRAMES * FACTOR ** (level + 1) <= perPixel) {
            level += 1;
        }
        const frames = BASE_FRAMES * FACTOR ** level;
        const out = new Int8Array(2 * count);
        const [begin, end] = side === null ? [0, this.#sides] : [side, side + 1];
        let here = false;
        let number = -1;
        let tile = null;
        for (let x = 0; x < count; x += 1) {
            const first = Math.floor((from + x * perPixel) / frames);
            const last = Math.max(first + 1, Math.floor((from + (x + 1) * perPixel) / frames));
            for (let p = first; p < last && p * frames < this.length; p += 1) {
                // Asked for once a tile, not once a run: there are thousands in view.
                if (Math.floor(p / TILE) !== number) {
                    number = Math.floor(p / TILE);
                    tile = this.#tile(level, number);
                }
                if (tile) {
                    here = true;
                    for (let at = 2 * (this.#sides * (p % TILE) + begin), last = at + 2 * (end - begin); at < last; at += 2) {
                        out[2 * x] = Math.min(out[2 * x], tile[at] ?? 0);
                        out[2 * x + 1] = Math.max(out[2 * x + 1], tile[at + 1] ?? 0);
                    }
                }
            }
        }

        return here ? out : null;
    }

    /** As columns(), from single frames. */
    closeColumns(from, perPixel, count, side = null) {
        const close = this.frames(Math.max(0, Math.floor(from)), Math.ceil(perPixel * count));
        if (!close) {
            return null;
        }
        const out = new Int8Array(2 * count);
        for (let x = 0; x < count; x += 1) {
            const first = 2 * Math.max(0, Math.floor(from + x * perPixel) - close.first) + (side ?? 0);
            const last = Math.min(close.values.length, 2 * (Math.floor(from + (x + 1) * perPixel) + 1 - close.first));
            let [low, high] = [0, 0];
            for (let i = first; i < last; i += side === null ? 1 : 2) {
                low = Math.min(low, close.values[i]);
                high = Math.max(high, close.values[i]);
            }
            [out[2 * x], out[2 * x + 1]] = [low >> 8, high >> 8];
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
        const response = await patiently(url);
        if (response.ok && this.#wanted === url) {
            this.#close = { first: from, values: new Int16Array(await response.arrayBuffer()) };
            this.changed();
        }
    }
}
