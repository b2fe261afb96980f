// Places of a loop that goes round: where its next beat and bar begin, and whether it is what is wanted now.

import { loopFrames, loopTicks } from '../time.js';

/**
 * Frame at which the next bar begins, counted on and on.
 *
 * @param loop as the player has it
 * @param from frame before which it does not
 */
export function nextBar(loop, from) {
    const pass = Math.floor(from / loop.frames);
    const bars = Math.ceil(loopTicks(from - pass * loop.frames, loop) / loop.bar - 1e-6);

    return Math.round(pass * loop.frames + loopFrames(Math.min(loop.ticks, bars * loop.bar), loop));
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

/** Whether another section is to play, or a part another of its patterns: that begins with a bar. */
export function switches(before, next) {
    return before?.beat === next.beat && before.plays !== undefined && (before.section !== next.section || before.plays !== next.plays);
}
