// The whole beat, or a long loop that goes round, fetched a few seconds ahead of what is heard and joined on whole frames.

import { notice } from '../notice.js';
import { askForSound, audio, CROSSFADE, output, RATE, toBuffer } from './context.js';
import { framesAt, sameTime, ticksAt } from '../time.js';

/** Segments of a piece: few at first, so that something is heard at once. */
const FIRST_PIECE = 3;
const PIECE = 24;
const AHEAD_SECONDS = 8;
const RENEWED_PIECE = 6;
/** Frames that are rendered at once, at the most. */
export const SEGMENT = 4096;
/** So much later than what is heard a newer version comes in; what came too late is tried again later on. */
const SOON_SECONDS = 0.3;
const LATEST_SECONDS = 0.03;

export class Pieces {
    sounding = false;
    music = 0;
    ticks = 0;
    #origin = 0;
    /** What is fetched: {from: segment, start and frames, meters, source, gain}, in order. */
    #pieces = [];
    #next = 0;
    #count = FIRST_PIECE;
    #timer = null;
    #stopped = false;
    #wanted = null;

    /**
     * @param what {beat, head: version that is played, time: how its tempo goes, what: id of what goes round, or '' for the whole beat, from: segment, hear: how it is heard otherwise}
     * @param on   {ended, working: told how far it is while a lighter sound stands for edits}
     */
    constructor({ beat, head, time, what = '', from = 0, hear = '' }, on) {
        Object.assign(this, { beat, head, time, what, hear, on });
        this.#next = from;
    }

    /** Context frame at which it was, or would have been, at its start. */
    get origin() {
        return this.#origin;
    }

    async start() {
        await this.#more();
        if (!this.#stopped) {
            this.#timer = setInterval(() => this.#tick(), 250);
        }
    }

    /** @param at by the audio clock, when it fades out; at once without it */
    stop(at = 0) {
        clearInterval(this.#timer);
        this.#stopped = true;
        for (const { source, gain } of this.#pieces) {
            if (at > 0) {
                gain.gain.setValueAtTime(1, at);
                gain.gain.linearRampToValueAtTime(0, at + CROSSFADE);
            }
            source.stop(at > 0 ? at + CROSSFADE : 0);
        }
    }

    position(at) {
        return this.sounding ? Math.floor(at * RATE) - this.#origin : 0;
    }

    meters() {
        const frame = this.position(audio().currentTime);
        const piece = this.#pieces.findLast((p) => p.start <= frame);

        return piece ? { meters: piece.meters, frame: frame - piece.start } : null;
    }

    /** Goes over to a newer version of the beat a moment later than what is heard; at another tempo it keeps its place in the music. */
    async renew(head, time, hear = '', soonest = SOON_SECONDS) {
        this.#wanted = { head, time, hear };
        if (this.renewing || !this.sounding) {
            return;
        }
        this.renewing = true;
        let soon = soonest;
        try {
            while ((this.#wanted.head !== this.head || this.#wanted.hear !== this.hear) && !this.#stopped) {
                const { head: wanted, time } = this.#wanted;
                const same = sameTime(this.time, time);
                const at = this.position(audio().currentTime) + soon * RATE;
                const old = this.#pieces.findLast((p) => p.start <= at) ?? this.#pieces[0];
                const from = Math.min(old.from + Math.ceil((at - old.start) / SEGMENT), this.#next ?? Infinity);
                this.hear = this.#wanted.hear;
                const piece = await this.#fetch(same ? from : Math.round(framesAt(ticksAt(from * SEGMENT, this.time), time) / SEGMENT), RENEWED_PIECE);
                if (this.#stopped) {
                    return;
                }
                // Where the new one is put in: at its own place, or when everything moved, where that place was before.
                const cut = same ? piece.start : old.start + (from - old.from) * SEGMENT;
                if (cut < this.position(audio().currentTime) + LATEST_SECONDS * RATE && soon < 8 * SOON_SECONDS) {
                    soon *= 2;
                    continue;
                }
                Object.assign(this, { head: wanted, time });
                this.#replace(cut, piece);
            }
        } finally {
            this.renewing = false;
        }
    }

    #replace(cut, piece) {
        const at = (this.#origin + cut) / RATE;
        for (const old of this.#pieces.filter((p) => p.start + p.frames > cut)) {
            if (old.start >= cut) {
                old.source.stop();
                continue;
            }
            old.gain.gain.setValueAtTime(1, at);
            old.gain.gain.linearRampToValueAtTime(0, at + CROSSFADE);
            old.source.stop(at + CROSSFADE);
            old.frames = cut - old.start;
        }
        const moved = cut - piece.start;
        this.#origin += moved;
        this.#pieces = this.#pieces.filter((p) => p.start < cut);
        for (const old of this.#pieces) {
            old.start -= moved;
        }
        this.#count = RENEWED_PIECE;
        this.#play(piece, CROSSFADE);
    }

    /** What was heard is let go, so that a long song does not fill the memory. */
    #forget() {
        const now = this.position(audio().currentTime);
        while (this.#pieces.length > 1 && this.#pieces[0].start + this.#pieces[0].frames < now - RATE) {
            this.#pieces.shift().gain.disconnect();
        }
    }

    /** Frames that are there and not heard yet. */
    get #left() {
        const last = this.#pieces.at(-1);

        return last.start + last.frames - this.position(audio().currentTime);
    }

    async #tick() {
        this.#forget();
        if (this.#next === null && this.#left <= 0) {
            this.on.ended();
        } else if (this.#next !== null && !this.fetching && !this.renewing) {
            try {
                while (this.#next !== null && this.#left < AHEAD_SECONDS * RATE && !this.#stopped && !this.renewing) {
                    await this.#more();
                }
            } catch (problem) {
                // A server that is away may be back before what is here has been heard.
                const away = problem instanceof TypeError;
                if (!this.#stopped && (!away || this.#left <= 0)) {
                    this.on.ended();
                    notice(away ? 'The sound cannot be fetched. Is Pestle still running?' : problem.message, { bad: true });
                }
            }
        }
    }

    async #more() {
        this.fetching = true;
        try {
            const from = this.#next;
            const piece = await this.#fetch(from, this.#count);
            this.#count = Math.min(PIECE, 2 * this.#count);
            // Stopped, or a newer version is in its place already.
            if (this.#next === from && !this.#stopped) {
                this.#play(piece);
            }
        } finally {
            this.fetching = false;
        }
    }

    async #fetch(from, count) {
        const { problem, answer, left, right } = await askForSound(`/beats/${this.beat}/piece?what=${this.what}&from=${from}&count=${count}&hear=${this.hear}`, {}, () => !this.#stopped);
        if (problem) {
            throw new Error(problem);
        }
        if (answer.gone) {
            throw new Error('This section is no longer in the beat.');
        }
        this.on.working(answer.working);

        return { ...answer, from, left, right };
    }

    #play({ from, start, frames, next, music, ticks, meters, left, right }, fade = 0) {
        const context = audio();
        const soon = Math.ceil((context.currentTime + 0.05) * RATE);
        const last = this.#pieces.at(-1);
        if (!this.sounding) {
            this.#origin = soon - start;
            this.sounding = true;
        } else if (last && last.start + last.frames !== start) {
            // A change of tempo moved everything: what comes now follows what is heard, wherever that lies.
            this.#origin += last.start + last.frames - start;
        }
        if (this.#origin + start < soon - 0.05 * RATE) {
            // It came too late: there is a gap, and everything is later by it.
            this.#origin = soon - start;
        }
        Object.assign(this, { music, ticks });
        this.#next = next;
        const at = (this.#origin + start) / RATE;
        const source = context.createBufferSource();
        const gain = context.createGain();
        source.buffer = toBuffer(left, right);
        source.connect(gain).connect(output());
        gain.gain.setValueAtTime(fade ? 0 : 1, at);
        if (fade) {
            gain.gain.linearRampToValueAtTime(1, at + fade);
        }
        source.start(at);
        this.#pieces.push({ from, start, frames, meters, source, gain });
    }
}
