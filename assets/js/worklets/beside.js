// Runs beside the sound: plays what a box sends, each frame at its place, a constant while after it was sent. What comes too late is left out,
// so that nothing moves.

/** Frames that are kept, a power of two, and how long after its sending a frame is heard, in frames. */
const KEPT = 65_536;
const LATER = 4096;

class BesidePlayer extends AudioWorkletProcessor {
    #ring = new Float32Array(KEPT);
    /** What is to be added to a frame of the clock to have the box's. */
    #ahead = null;
    #last = 0;

    constructor() {
        super();
        this.port.onmessage = ({ data: { frame, samples } }) => {
            if (this.#ahead === null || Math.abs(frame + samples.length - LATER - currentFrame - this.#ahead) > LATER) {
                this.#ahead = frame + samples.length - LATER - currentFrame;
                this.#ring.fill(0);
            }
            for (let i = 0; i < samples.length; i += 1) {
                this.#ring[(frame + i) & (KEPT - 1)] = samples[i];
            }
            this.#last = frame + samples.length;
        };
    }

    process(_, [[left, right]]) {
        for (let i = 0; i < left.length; i += 1) {
            const frame = currentFrame + i + (this.#ahead ?? 0);
            const there = this.#ahead !== null && frame < this.#last && frame > this.#last - KEPT / 2;
            left[i] = there ? this.#ring[frame & (KEPT - 1)] : 0;
            right[i] = left[i];
        }

        return true;
    }
}

registerProcessor('pestle-beside', BesidePlayer);
