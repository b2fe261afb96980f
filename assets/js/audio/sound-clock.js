// The audio clock by performance.now() and back: what the browser says wavers by some milliseconds from look to look, the middle of
// its last words does not.

const LOOKS = 41;

export class SoundClock {
    /** How much later performance.now() is, in ms, at the last looks. */
    #later = [];
    #middle = null;

    /** Takes in what the browser says: its audio clock, in seconds, and the moment at which that is heard. */
    look({ contextTime, performanceTime }) {
        if (performanceTime > 0) {
            this.#later = [...this.#later.slice(1 - LOOKS), performanceTime - 1000 * contextTime];
            this.#middle = [...this.#later].sort((a, b) => a - b)[this.#later.length >> 1];
        }
    }

    /** Whether it was looked at. */
    get isKnown() {
        return this.#middle !== null;
    }

    /** The audio clock of what is heard at a moment. */
    time(moment) {
        return (moment - this.#middle) / 1000;
    }

    /** The moment at which what the audio clock has at a time is heard. */
    moment(time) {
        return 1000 * time + this.#middle;
    }
}
