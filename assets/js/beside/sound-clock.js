// The audio clock by performance.now() and back: what the browser says wavers by some milliseconds from look to look, the middle of
// its last words does not.

import { audio } from '../audio/context.js';

const LOOKS = 41;
const LOOK_MS = 60;
/** How much later performance.now() is, in ms, at the last looks. */
let later = [];

function look() {
    const { contextTime, performanceTime } = audio().getOutputTimestamp();
    if (performanceTime > 0) {
        later = [...later.slice(1 - LOOKS), performanceTime - 1000 * contextTime];
    }
}

function middle() {
    if (later.length === 0) {
        look();
    }

    return later.length > 0 ? [...later].sort((a, b) => a - b)[later.length >> 1] : performance.now() - 1000 * audio().currentTime;
}

/** The audio clock, in seconds, of what is heard at a moment. */
export function soundTime(moment) {
    return (moment - middle()) / 1000;
}

/** The moment at which what the audio clock has at a time is heard. */
export function soundMoment(at) {
    return 1000 * at + middle();
}

let looking = null;

/** Looks as long as somebody needs it. */
export function keepTime(needed) {
    clearInterval(looking);
    looking = needed ? setInterval(look, LOOK_MS) : null;
    if (!needed) {
        later = [];
    }
}
