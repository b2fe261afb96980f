// Places of a loop that goes round: where its next beat and bar begin, and whether it is what is wanted now.

import { loopFrames, loopTicks } from '../time.js';

/**
 * Frame at which the next bar begins.
 *
 * @param loop   as the player has it
 * @param origin frame at which it began
 * @param from   frame before which it does not
 */
export function nextBar(loop, origin, from) {
    const gone = from - origin;
    const pass = Math.floor(gone / loop.frames);
    const bars = Math.ceil(loopTicks(gone - pass * loop.frames, loop) / loop.bar - 1e-6);

    return Math.round(origin + pass * loop.frames + loopFrames(Math.min(loop.ticks, bars * loop.bar), loop));
}

/** Frames until the next beat, from a place in ticks. */
export function untilBeat(loop, place, beat) {
    const next = Math.min(loop.ticks, place + beat - (place % beat));

    return loopFrames(next, loop) - loopFrames(place, loop);
}

/** Whether it is another section of another beat than the page shows, or a part plays another of its patterns there. */
export function isElsewhere(loop, { beat, plays }, section) {
    return loop.section !== section || loop.beat !== beat || (loop.plays !== undefined && loop.plays !== plays);
}

/** Frame within a loop of one that counts on and on. */
export function within(frame, loop) {
    return ((frame % loop.frames) + loop.frames) % loop.frames;
}
