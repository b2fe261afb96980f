// A loop as it sounds: begun at a frame of the audio clock, and gone over to another version of it by a short crossfade.

import { audio, CROSSFADE, output, RATE, toBuffer } from './context.js';

export class Sounding {
    #now = null;

    get on() {
        return this.#now !== null;
    }

    /** Begins at a frame of the clock with a frame of the loop; what sounded is faded out. */
    start(frame, offset, left, right, fades = true) {
        this.end(frame / RATE);
        const context = audio();
        const source = context.createBufferSource();
        const gain = context.createGain();
        source.buffer = toBuffer(left, right);
        source.loop = true;
        source.connect(gain).connect(output());
        gain.gain.setValueAtTime(fades ? 0 : 1, frame / RATE);
        if (fades) {
            gain.gain.linearRampToValueAtTime(1, frame / RATE + CROSSFADE);
        }
        source.start(frame / RATE, offset / RATE);
        this.#now = { source, gain };
    }

    /** @param at seconds of the audio clock */
    end(at) {
        if (this.#now) {
            const { source, gain } = this.#now;
            gain.gain.setValueAtTime(1, at);
            gain.gain.linearRampToValueAtTime(0, at + CROSSFADE);
            source.stop(at + CROSSFADE);
            this.#now = null;
        }
    }
}
