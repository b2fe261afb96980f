// Live recording: strikes while the pattern goes round become hits, pass by pass, each pass one undo. What was played
// without recording can be kept, and held pads erase.

import { change } from './changes.js';
import { player } from './audio/player.js';
import { notice } from './notice.js';
import { loopTime, page } from './page.js';
import { recording } from './recording.js';
import { bpmAt, framesAt, RATE } from './time.js';
import { undo } from './way-back.js';

/** Strikes without recording that are remembered. */
const MOST_LOOSE = 600;

class Recorder {
    on = false;
    /** Whether held pads erase in place of sounding. */
    erasing = false;
    /** What was played and is not stored yet: {hit, pattern, held}. */
    #played = [];
    /** What was played while nothing was recorded, with the moment. */
    #loose = [];
    #last = 0;

    start() {
        this.on = true;
        this.#played = [];
        this.#last = 0;
    }

    /** Notes a strike of a pad (its id) or a note (its pitch) at a place in ticks of what plays; gives what letGo wants back. */
    strike(source, velocity, ticks, held, lengthTicks = 240, grade = '') {
        const pattern = page().pattern;
        if (ticks === null || ticks < -120 || (!this.on && !pattern)) {
            return null;
        }
        if (!pattern) {
            notice('This part has no pattern in this section: give it one, then record.', { bad: true });

            return null;
        }
        // What was struck was heard late, and sounds later still: it was meant for that much earlier.
        const meant = Math.round(ticks - recording.latency / 1000 * bpmAt(ticks, loopTime()) * 16);
        const length = player.loop.ticks;
        const place = meant >= 0 ? meant : ticks < 0 || meant > -120 ? 0 : meant + length;
        const note = { hit: [place, source, velocity, lengthTicks, 100, ...(grade ? [0, 0, grade] : [])], pattern, length, held, at: performance.now() };
        if (this.on) {
            this.#played.push(note);
        } else {
            this.#loose.push(note);
            this.#loose = this.#loose.slice(-MOST_LOOSE);
        }

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
        this.#endHeld(this.#played);
        await this.#store();
    }

    /** Stores what was played in the last pass without recording. */
    async keep() {
        if (!page().pattern || this.#loose.length === 0) {
            notice('Nothing was played while the loop went round. Play it, strike pads, then keep it.');

            return;
        }
        const [last] = this.#loose.slice(-1);
        const seconds = framesAt(last.length, loopTime()) / RATE;
        const pass = this.#loose.filter((note) => note.pattern === last.pattern && last.at - note.at < 1000 * seconds);
        this.#loose = [];
        this.#endHeld(pass);
        await this.#put(pass, 'Kept');
    }

    /** What a pad, or a note, plays is taken out from one place to another. */
    async erase(source, from, to) {
        const pattern = page().pattern;
        if (pattern && from !== null && to !== null) {
            const { ticks } = player.loop;
            const until = to > from ? to : to + ticks;
            await change({ type: 'erase-held', pattern, ...(typeof source === 'number' ? { pitch: source } : { pad: source }), from: Math.max(0, Math.round(from)), to: Math.round(until) });
        }
    }

    /** The last pass, while or after it is recorded. */
    takeBack() {
        if (/Recorded|Kept/.test(document.querySelector('[data-undo]')?.textContent ?? '')) {
            undo();
        } else {
            notice('There is no pass to be taken back.');
        }
    }

    /** What is still held sounds until here. */
    #endHeld(notes) {
        for (const note of notes.filter((n) => n.held)) {
            const length = Math.round(this.#last) - note.hit[0];
            note.hit[3] = Math.max(60, length > 0 ? length : length + note.length);
            note.held = false;
        }
    }

    /** Stores what is not held any more, each in the pattern it was played over. */
    async #store() {
        const done = this.#played.filter((note) => !note.held);
        this.#played = this.#played.filter((note) => note.held);
        for (const note of this.#played) {
            note.over = true;
        }
        await this.#put(done, 'Recorded');
    }

    async #put(done, said) {
        for (const pattern of new Set(done.map((note) => note.pattern))) {
            const hits = done.filter((note) => note.pattern === pattern).map((note) => note.hit);
            const notes = typeof hits[0][1] === 'number';
            const recorded = notes ? { type: 'edit-notes', gesture: 'record', pattern, notes: hits } : { type: 'record-hits', pattern, hits };
            if (await change({ ...recorded, quantise: recording.strength > 0, strength: recording.strength, replace: recording.mode === 'replace' })) {
                const one = notes ? 'note' : 'hit';
                notice(`${said} ${hits.length} ${hits.length === 1 ? one : `${one}s`}. Backspace takes this pass back.`);
            }
        }
    }
}

export const recorder = new Recorder();
