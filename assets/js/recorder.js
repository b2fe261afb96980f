// Live recording: strikes while the pattern goes round become hits, pass by pass, each pass one undo.

import { change } from './changes.js';
import { player } from './audio/player.js';
import { notice } from './notice.js';
import { page } from './page.js';

class Recorder {
    on = false;
    quantise = true;
    /** What was played and is not stored yet: {hit, pattern, held}. */
    #played = [];
    #last = 0;

    start() {
        this.on = true;
        this.#played = [];
        this.#last = 0;
    }

    /** Notes a strike of a pad (its id) or a note (its pitch) at a place in ticks of what plays; gives what letGo wants back. */
    strike(source, velocity, ticks, held, lengthTicks = 240, grade = '') {
        const pattern = page().pattern;
        if (!this.on || ticks === null || ticks < -120) {
            return null;
        }
        if (!pattern) {
            notice('This part has no pattern in this section: give it one, then record.', { bad: true });

            return null;
        }
        const note = { hit: [Math.max(0, Math.round(ticks)), source, velocity, lengthTicks, 100, ...(grade ? [0, 0, grade] : [])], pattern, length: player.loop.ticks, held };
        this.#played.push(note);

        return note;
    }

    letGo(note, ticks) {
        if (note?.held) {
            const length = Math.round(ticks) - note.hit[0];
            note.hit[3] = Math.max(60, length > 0 ? length : length + note.length);
            note.held = false;
            // It was held over the end of its pass, which is stored already.
            if (note.over) {
                this.#store();
            }
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
        // What is still held sounds until here.
        for (const note of this.#played.filter((n) => n.held)) {
            const length = Math.round(this.#last) - note.hit[0];
            note.hit[3] = Math.max(60, length > 0 ? length : length + note.length);
            note.held = false;
        }
        await this.#store();
    }

    /** Stores what is not held any more, each in the pattern it was played over. */
    async #store() {
        const done = this.#played.filter((note) => !note.held);
        this.#played = this.#played.filter((note) => note.held);
        for (const note of this.#played) {
            note.over = true;
        }
        for (const pattern of new Set(done.map((note) => note.pattern))) {
            const hits = done.filter((note) => note.pattern === pattern).map((note) => note.hit);
            const notes = typeof hits[0][1] === 'number';
            const recorded = notes ? { type: 'edit-notes', gesture: 'record', pattern, notes: hits } : { type: 'record-hits', pattern, hits };
            if (await change({ ...recorded, quantise: this.quantise })) {
                const one = notes ? 'note' : 'hit';
                notice(`Recorded ${hits.length} ${hits.length === 1 ? one : `${one}s`}. Undo takes this pass back.`);
            }
        }
    }
}

export const recorder = new Recorder();
