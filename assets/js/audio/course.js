// Where what plays is, by the audio clock: it goes on a frame a frame, and while it follows somebody else's clock a little faster or slower.

import { loopFrames, loopTicks, RATE } from '../time.js';

/** Turns that are remembered: what was heard a moment ago lies before the last of them. */
const REMEMBERED = 40;

export class Course {
    #origin;
    /** Each {at: seconds of the audio clock, frame, rate}: how it goes from there on. */
    #turns = [];

    /** @param origin frame of the audio clock at which what plays was, or would have been, at its start */
    constructor(origin) {
        this.#origin = origin;
    }

    /** Frames of what plays that go by in a frame of the clock, by now. */
    get rate() {
        return this.#turns.at(-1)?.rate ?? 1;
    }

    /** The frame, and its fraction, that is heard at a moment. */
    frame(at) {
        const turn = this.#turns.findLast((one) => one.at <= at) ?? this.#turns[0];

        return turn ? turn.frame + (at - turn.at) * RATE * turn.rate : at * RATE - this.#origin;
    }

    /** The moment at which a frame is heard, by how it goes now. */
    when(frame) {
        const turn = this.#turns.at(-1);

        return turn ? turn.at + (frame - turn.frame) / turn.rate / RATE : (this.#origin + frame) / RATE;
    }

    /** Goes on at another rate from a moment on. */
    turn(at, rate) {
        if (rate !== this.rate) {
            this.#turns.push({ at, frame: this.frame(at), rate });
            this.#turns = this.#turns.slice(-REMEMBERED);
        }
    }

    /** What plays counts otherwise from now on: what was frame 0 is this one. */
    count(frame) {
        this.#origin -= frame;
        for (const turn of this.#turns) {
            turn.frame += frame;
        }
    }

    /** The same at another place: what is heard at a moment is this frame. */
    at(moment, frame) {
        this.count(frame - this.frame(moment));
    }

    /**
     * What goes round is as long as another from a moment on, and stays at its place in ticks.
     *
     * @param before as the player has it
     * @param next   likewise
     * @param follows whether it goes by somebody else's clock, and so on as fast in ticks
     */
    exchange(moment, before, next, follows) {
        const frame = this.frame(moment);
        if (frame > 0) {
            this.at(moment, Math.round(loopFrames(loopTicks(frame % before.frames, before) % next.ticks, next)));
            this.turn(moment, follows && before.ticks === next.ticks ? this.rate * next.frames / before.frames : 1);
        }
    }
}
