// What an insert listens to over the loop that plays, its threshold, and how far it pulled down: computed with the sound, drawn here.

import { onFrame } from '../frames.js';
import { player } from '../audio/player.js';
import { fill } from '../sized.js';
import { colour, decibels } from '../meters.js';

const FLOOR_DB = -60;
/** Where the dip, which hangs from the top, reaches the bottom. */
const MOST_DIP_DB = 30;

class Trace extends HTMLElement {
    #drawn = '';

    connectedCallback() {
        this.stop = onFrame(() => this.#draw());
    }

    disconnectedCallback() {
        this.stop();
    }

    /** Furthest dip that is drawn, in dB; 0 when nothing is. */
    get lowest() {
        return Math.min(0, ...(this.#meters()?.reductions[this.dataset.insert] ?? []));
    }

    #meters() {
        return player.meters()?.meters ?? player.loop?.meters;
    }

    #draw() {
        const canvas = this.querySelector('canvas');
        const meters = this.#meters();
        const now = player.meters();
        // An exchanged page takes its size away, and with it the picture.
        const emptied = fill(canvas, this, canvas);
        const { width, height } = canvas;
        const key = [player.loop?.render, now?.column, this.dataset.threshold, this.dataset.gain, colour('ink')].join();
        if ((key === this.#drawn && !emptied) || width === 0) {
            return;
        }
        this.#drawn = key;
        const peaks = (this.dataset.hears === 'master' ? meters?.mix : meters?.channels[this.dataset.hears]) ?? [];
        const dips = meters?.reductions[this.dataset.insert] ?? [];
        const columns = Math.max(1, peaks.length / 2, dips.length);
        const context = canvas.getContext('2d');
        context.clearRect(0, 0, width, height);
        const y = (db) => height * Math.min(1, Math.max(0, db / FLOOR_DB));
        context.fillStyle = colour('quiet');
        for (let i = 0; i < peaks.length / 2; i++) {
            const top = y(decibels(Math.max(peaks[2 * i], peaks[2 * i + 1])) - Number(this.dataset.gain));
            context.fillRect(i * width / columns, top, Math.max(1, width / columns - 0.5), height - top);
        }
        context.fillStyle = colour('ink');
        if (this.dataset.threshold) {
            context.fillRect(0, y(Number(this.dataset.threshold)), width, devicePixelRatio);
        }
        context.strokeStyle = colour('paprika');
        context.lineWidth = 2 * devicePixelRatio;
        context.beginPath();
        dips.forEach((db, i) => context.lineTo((i + 0.5) * width / columns, context.lineWidth + height * Math.min(1, -db / MOST_DIP_DB)));
        context.stroke();
        if (now) {
            context.fillStyle = colour('turmeric');
            context.fillRect(now.column * width / columns, 0, 2 * devicePixelRatio, height);
        }
    }
}
customElements.define('pestle-trace', Trace);
