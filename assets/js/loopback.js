// How late what is played comes back by the microphone: clicks are played, and looked for in what was recorded.

/** A click is looked for so long after it was played, in seconds. */
const LONGEST = 0.5;
/** It stands out of what is there before it by so much, and its own times differ by no more than this, in seconds. */
const STANDS_OUT = 6;
const SPREAD = 0.004;

/**
 * @param {Float32Array} sound  what was recorded
 * @param {number} first        frame of the audio clock at which it begins
 * @param {number[]} clicks     frames at which clicks were played
 * @param {number} rate
 *
 * @returns {number|null} frames from a click to its coming back; null where it was not heard clearly
 */
export function delayOf(sound, first, clicks, rate) {
    const found = clicks.map((click) => riseAfter(sound, click - first, rate)).filter((delay) => delay !== null).sort((a, b) => a - b);
    if (found.length < Math.ceil(clicks.length * 0.6)) {
        return null;
    }
    const middle = found[Math.floor(found.length / 2)];
    const near = found.filter((delay) => Math.abs(delay - middle) <= SPREAD * rate);

    return near.length < Math.ceil(clicks.length * 0.6) ? null : middle;
}

/** Frames from a place to the first that is as loud as a third of the loudest behind it; null where nothing stands out. */
function riseAfter(sound, at, rate) {
    const [from, to] = [Math.max(0, Math.round(at)), Math.min(sound.length, Math.round(at + LONGEST * rate))];
    const peak = (a, b) => sound.subarray(Math.max(0, a), Math.max(0, b)).reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    const loudest = peak(from, to);
    if (to - from < 0.1 * rate || loudest < 1e-4 || loudest < STANDS_OUT * peak(from - Math.round(0.05 * rate), from)) {
        return null;
    }
    for (let i = from; i < to; i += 1) {
        if (Math.abs(sound[i]) >= loudest / 3) {
            return i - Math.round(at);
        }
    }

    return null;
}
