// Hearing the parts of a recording, side by side to the frame; each can be switched while they sound.

import { audio, CROSSFADE, fetchSound, toBuffer } from '../audio/context.js';
import { hush } from '../audio/pads.js';
import { pause } from '../pause.js';

export const PARTS = ['drums', 'bass', 'melody', 'voice'];
/** As much as is sent at once, in seconds. */
const PIECE = 10;
const AHEAD = 3;
const START = 0.03;

export class ApartPlaying {
    #gains = null;
    #sources = [];
    #run = 0;
    #from = 0;
    #began = null;

    /**
     * @param address (part, frame, frames): where a stretch of a part is
     * @param state   {rate, done, on}: frames there are, and which parts are on by name
     */
    constructor(address, state) {
        this.address = address;
        this.state = state;
    }

    /** Frame that is heard now; null when nothing is. */
    get frame() {
        if (this.#began === null) {
            return null;
        }

        return this.#from + Math.max(0, audio().currentTime - this.#began) * this.state.rate;
    }

    /** How loud each part is now: for looking at, 0 or 1. */
    get levels() {
        return this.#gains?.map((gain) => gain.gain.value) ?? null;
    }

    async play(frame) {
        this.stop();
        hush();
        const run = this.#run;
        const { rate } = this.state;
        const context = audio();
        this.#gains = PARTS.map((part) => new GainNode(context, { gain: this.state.on[part] ? 1 : 0 }));
        this.#gains.forEach((gain) => gain.connect(context.destination));
        let at = null;
        for (let next = frame; next < this.state.done;) {
            const frames = Math.min(PIECE * rate, this.state.done - next);
            const from = next;
            const sounds = await Promise.all(PARTS.map((part) => fetchSound(this.address(part, from, frames))));
            if (run !== this.#run) {
                return;
            }
            // What comes late goes on later: nothing of it is left out.
            const late = at === null || at < context.currentTime + START;
            at = late ? context.currentTime + START : at;
            if (late) {
                [this.#from, this.#began] = [next, at];
            }
            sounds.forEach(({ left, right }, i) => {
                const source = context.createBufferSource();
                source.buffer = toBuffer(left, right);
                source.connect(this.#gains[i]);
                source.start(at);
                this.#sources.push(source);
            });
            at += frames / rate;
            next += frames;
            while (run === this.#run && context.currentTime < at - AHEAD) {
                await pause(200);
            }
        }
        while (run === this.#run && at !== null && context.currentTime < at) {
            await pause(100);
        }
        if (run === this.#run) {
            this.stop();
        }
    }

    stop() {
        this.#run += 1;
        this.#began = null;
        this.#sources.forEach((source) => source.stop());
        this.#sources = [];
        this.#gains?.forEach((gain) => gain.disconnect());
        this.#gains = null;
    }

    /** Switches what sounds as the state says. */
    switch() {
        this.#gains?.forEach((gain, i) => gain.gain.setTargetAtTime(this.state.on[PARTS[i]] ? 1 : 0, audio().currentTime, CROSSFADE));
    }
}
