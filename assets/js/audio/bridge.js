// What of a loop is about to be heard, in its newest version, while the whole of it is still being worked out.

import { loopOf } from '../loop-range.js';
import { app, page } from '../page.js';
import { pause } from '../pause.js';
import { askForSound, RATE } from './context.js';
import { isElsewhere } from './loop-places.js';
import { SEGMENT } from './pieces.js';

/** Segments that are fetched at once: a quarter of a second at first, then half. */
const FIRST = 3;
const COUNT = 6;
/** So much later than what is heard a stretch begins at first; what came too late asks for a later one. */
const LEAD_SECONDS = 0.09;
const MOST_LEAD_SECONDS = 3;
const SPARE_SECONDS = 0.15;
/** So much is to be there before what is heard. */
const AHEAD_SECONDS = 0.45;

/** A loop that takes longer, in ms, is bridged; so often what is wanted anew is looked at meanwhile. */
export const BRIDGE_AFTER = 90;
const TURN = 25;

export class Bridge {
    /** The loop with its newest stretches put in; null while nothing is bridged. */
    #left = null;
    #right = null;
    #asked = '';
    /** Frame of the loop up to which the newest version is there. */
    #end = null;
    #next = 0;
    #lead = LEAD_SECONDS;

    get isOn() {
        return this.#left !== null;
    }

    end() {
        this.#left = null;
        this.#right = null;
        this.#asked = '';
    }

    /**
     * While the whole loop is on its way for long, what is about to be heard comes first: stretch after stretch from where it
     * plays. What is wanted anew meanwhile, as a control is turned, comes so too, and the whole when the hand rests.
     *
     * @param slow whether the whole took long the last time
     */
    async over(player, whole, slow) {
        let there = false;
        whole.finally(() => { there = true; });
        await Promise.race([whole, pause(slow ? 0 : BRIDGE_AFTER)]);
        while (!there && await this.stretch(player, () => there)) {
            await pause(TURN);
        }
    }

    /** One stretch, unless enough is there; whether more could follow. */
    async stretch(player, there = () => false) {
        if (!player.bridges || isElsewhere(player.loop, page(), loopOf(page()))) {
            // Another section, or another pattern of a part, comes with the next bar and not in the midst of this one.
            return false;
        }
        const heard = await this.next(player.loop, () => player.position(), player.question());
        if (there() || heard === null || !player.bridges) {
            return false;
        }
        if (heard !== false) {
            player.take(heard);
        }

        return true;
    }

    /**
     * The next stretch, if there is one to be had.
     *
     * @param loop     {left, right, frames}
     * @param position gives the frame of the loop that is heard
     * @param question {what, preview, hear}
     * @returns {Promise<{left, right}|false|null>} the loop with it; false when enough is there, null when it can't be bridged
     */
    async next(loop, position, question) {
        const asked = JSON.stringify([page().head, question]);
        const from = (frame) => Math.floor((frame % loop.frames) / SEGMENT);
        if (asked !== this.#asked) {
            this.#asked = asked;
            this.#next = from(position() + this.#lead * RATE);
            this.#end = null;
        } else if (this.#end !== null && this.#ahead(loop, position()) > AHEAD_SECONDS * RATE) {
            return false;
        }
        const count = this.#end === null ? FIRST : COUNT;
        const asking = performance.now();
        const sound = await askForSound(`/beats/${page().beat}/loop`, {
            method: 'POST',
            headers: { 'Content-Type': 'application/json', 'X-Pestle-Token': app().dataset.token },
            body: JSON.stringify({ ...question, from: this.#next, count }),
        }).catch(() => null);
        if (sound === null || sound.problem) {
            // Whoever asked for the whole says why.
            return null;
        }
        const { answer, left, right } = sound;
        if (answer.gone || answer.music !== loop.frames) {
            // Another tempo or length: only the whole is of use.
            return null;
        }
        this.#left ??= loop.left.slice();
        this.#right ??= loop.right.slice();
        const start = answer.start % loop.frames;
        this.#put(this.#left, left, start);
        this.#put(this.#right, right, start);
        this.#end = (start + answer.frames) % loop.frames;
        this.#next = from(this.#end);
        if (this.#ahead(loop, position()) < 0.1 * RATE) {
            // Too late to be heard: the next one begins as much further on as this one took.
            this.#lead = Math.min(MOST_LEAD_SECONDS, (performance.now() - asking) / 1000 + SPARE_SECONDS);
            this.#asked = '';
        }

        return { left: this.#left, right: this.#right };
    }

    /** Frames from what is heard to where the newest version ends; when it lies behind, less than nothing. */
    #ahead(loop, at) {
        const left = (this.#end - at + loop.frames) % loop.frames;

        return left > loop.frames - 2 * RATE ? left - loop.frames : left;
    }

    #put(whole, part, start) {
        const first = Math.min(part.length, whole.length - start);
        whole.set(part.subarray(0, first), start);
        whole.set(part.subarray(first), 0);
    }
}
