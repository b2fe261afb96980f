// A loop as it sounds: begun at a frame of the audio clock, and gone over to another version of it by a short crossfade.

import { audio, CROSSFADE, output, RATE, toBuffer } from './context.js';

export class Sounding {
    #now = null;

    get on() {
        return this.#now !== null;
    }

    /** Begins at a frame of the clock with a frame of the loop, and goes so fast; what sounded is faded out. */
    start(frame, offset, { left, right }, rate, fades = true) {
        this.stop(frame / RATE);
        const context = audio();
        const source = context.createBufferSource();
        const gain = context.createGain();
        source.buffer = toBuffer(left, right);
        source.loop = true;
        source.playbackRate.value = rate;
        source.connect(gain).connect(output());
        gain.gain.setValueAtTime(fades ? 0 : 1, frame / RATE);
        if (fades) {
            gain.gain.linearRampToValueAtTime(1, frame / RATE + CROSSFADE);
        }
        // As fast as the clock it is the file, to the bit: at whole frames.
        source.start(frame / RATE, (rate === 1 ? Math.round(offset) : offset) / RATE);
        this.#now = { source, gain };
    }

    /** From a moment of the audio clock on it goes so fast. */
    turn(at, rate) {
        this.#now?.source.playbackRate.setValueAtTime(rate, at);
    }

    /** @param at seconds of the audio clock */
    stop(at) {
        if (this.#now) {
            const { source, gain } = this.#now;
            gain.gain.setValueAtTime(1, at);
            gain.gain.linearRampToValueAtTime(0, at + CROSSFADE);
            source.stop(at + CROSSFADE);
            this.#now = null;
        }
    }
}
