// Live recording: strikes while the pattern goes round become hits, pass by pass, each pass one undo.

import { change } from './changes.js';
import { page } from './page.js';
import { notice } from './notice.js';

class Recorder {
    on = false;
    quantise = true;
    #played = [];
    #last = 0;

    start() {
        this.on = true;
        this.#played = [];
        this.#last = 0;
    }

    /** Notes a strike at a place in ticks; gives what letGo wants back. */
    strike(pad, velocity, ticks) {
        if (!this.on || ticks === null || ticks < -120) {
            return null;
        }
        const hit = [Math.max(0, Math.round(ticks)), pad, velocity, 240, 100];
        this.#played.push(hit);

        return hit;
    }

    letGo(hit, ticks) {
        if (hit) {
            const length = Math.round(ticks) - hit[0];
            hit[3] = Math.max(60, length > 0 ? length : length + page().ticks);
        }
    }

    /** Called while playing: a pass that is over is stored. */
    follow(ticks) {
        if (this.on && ticks < this.#last) {
            this.#store();
        }
        this.#last = ticks;
    }

    async stop() {
        this.on = false;
        await this.#store();
    }

    async #store() {
        const hits = this.#played;
        this.#played = [];
        if (hits.length > 0 && await change({ type: 'record-hits', pattern: page().pattern, hits, quantise: this.quantise })) {
            notice(`Recorded ${hits.length} ${hits.length === 1 ? 'hit' : 'hits'}. Undo takes this pass back.`);
        }
    }
}

export const recorder = new Recorder();
