// How much later than it is chosen something can come, so that it is there when its moment comes: as the last ones took.

/** So many choices are looked back on. */
const LAST = 8;
/** Seconds, as long as nothing is known; what is heard goes over so long after it was answered. */
const FIRST = { soon: 0.25, lead: 0.4 };
const SOON = { least: 0.08, most: 0.6 };
const MOST_LEAD = 1.2;
/** What is sent to the sound card is not to be changed any more. */
const SPARE = 0.04;

export class Lead {
    #took = [];

    /**
     * A choice was heard in time, or as soon as it could be.
     *
     * @param answered seconds from choosing to its answer
     * @param fetched  seconds from there until its sound was there
     */
    took(answered, fetched) {
        this.#took = [...this.#took, { answered, fetched }].slice(-LAST);
    }

    /** Seconds after its answer at which what is heard goes over to it. */
    get soon() {
        return this.#took.length === 0 ? FIRST.soon : Math.min(SOON.most, Math.max(SOON.least, SPARE + 1.1 * this.#most('fetched')));
    }

    /** Seconds after now at which something chosen now can come at the soonest. */
    get seconds() {
        return this.#took.length === 0 ? FIRST.lead : Math.min(MOST_LEAD, this.soon + 1.1 * this.#most('answered'));
    }

    #most(what) {
        return Math.max(...this.#took.map((one) => one[what]));
    }
}
