// How a clock goes, by its pulses: its tempo and its place, evened out, as pulses come early and late.
// Source: an alpha-beta filter (Benedict and Bordner 1962) that begins as a least-squares line.

/** Pulses a quarter, and ticks a pulse. */
export const PULSES = 24;
export const PULSE_TICKS = 40;
/** How much a pulse says about the place, and about the tempo, at least. */
const PLACE = 0.14;
const TEMPO = 0.011;
/** Pulses before its tempo is known. */
const KNOWN = 12;
/** So long without a pulse, in ms, and it is away. */
const AWAY_MS = 700;
/** The tempo without what comes and goes within so many ms. */
const STEADY_MS = 3000;

export class Pulses {
    runs = false;
    /** Whether a start or a place was heard: without it, where it is is not known. */
    placed = false;
    #count = -1;
    #seen = 0;
    #at = 0;
    #period = 0;
    #steady = 0;

    /** Takes a message of the clock: bytes, and the moment at which they were sent, in ms. */
    take([status, low = 0, high = 0], moment) {
        if (status === 0xf8) {
            this.#pulse(moment);
        } else if (status === 0xf2) {
            this.#place(6 * (low + 128 * high));
        } else if (status === 0xfa) {
            this.#place(0);
            this.runs = true;
        } else if (status === 0xfb) {
            this.runs = true;
        } else if (status === 0xfc) {
            this.runs = false;
        }
    }

    /** The next pulse is this one, counted from the start. */
    #place(pulse) {
        this.#count = pulse - 1;
        this.placed = true;
    }

    #pulse(moment) {
        const off = moment - this.#at - this.#period;
        if (this.#seen === 0 || moment - this.#at > AWAY_MS) {
            this.#seen = 0;
            this.#at = moment;
        } else if (this.#seen === 1) {
            this.#period = moment - this.#at;
            this.#at = moment;
        } else {
            const n = this.#seen + 1;
            this.#at += this.#period + Math.max(PLACE, 2 * (2 * n - 1) / n / (n + 1)) * off;
            this.#period += Math.max(TEMPO, 6 / n / (n + 1)) * off;
        }
        this.#seen += 1;
        this.#steady = this.#seen <= KNOWN ? this.#period : this.#steady + Math.min(1, this.#period / STEADY_MS) * (this.#period - this.#steady);
        this.#count += Number(this.runs);
    }

    /** Whether its tempo is known. */
    get isKnown() {
        return this.#seen >= KNOWN;
    }

    isAway(moment) {
        return this.#seen > 0 && moment - this.#at > AWAY_MS;
    }

    /** Quarters a minute. */
    get bpm() {
        return 60_000 / PULSES / this.#period;
    }

    /** The tempo without its waver. */
    get steadyBpm() {
        return 60_000 / PULSES / this.#steady;
    }

    /** Its place in ticks at a moment. */
    ticks(moment) {
        return PULSE_TICKS * (this.#count + (moment - this.#at) / this.#period);
    }

    /** The moment at which it is at a place in ticks. */
    moment(ticks) {
        return this.#at + (ticks / PULSE_TICKS - this.#count) * this.#period;
    }

    /** Its place is a multiple of these ticks where it is nearest now: who listens has heard a downbeat. */
    isOne(moment, ticks) {
        const place = Math.round(this.ticks(moment) / ticks) * ticks;
        this.#count += Math.round((place - this.ticks(moment)) / PULSE_TICKS);
        this.placed = this.runs = true;
    }
}
