// The whole beat, fetched a few seconds ahead of what is heard and joined on whole frames.

import { notice } from '../notice.js';
import { audio, CROSSFADE, RATE, readSound, toBuffer } from './context.js';

const PIECE = 24;
const FIRST_PIECE = 8;
const AHEAD_SECONDS = 8;
/** A piece that begins sooner than this is not exchanged any more. */
const SOON_SECONDS = 0.4;

export class Song {
    sounding = false;
    music = 0;
    #origin = 0;
    /** What is fetched: {from: segment, start and frames, meters, source, gain}, in order. */
    #pieces = [];
    /** A piece that fades out under the newer one in its place. */
    #leaving = null;
    #next = 0;
    #timer = null;
    #stopped = false;
    #wanted = null;

    /** @param head version of the beat that is played */
    constructor(beat, head, ended) {
        Object.assign(this, { beat, head, ended });
    }

    async start() {
        await this.#more();
        if (!this.#stopped) {
            this.#timer = setInterval(() => this.#tick(), 250);
        }
    }

    stop() {
        clearInterval(this.#timer);
        this.#stopped = true;
        this.#leaving?.source.stop();
        for (const { source } of this.#pieces) {
            source.stop();
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

    /** Goes over to a newer version of the beat with the first piece that is not near yet. */
    async renew(head) {
        this.#wanted = head;
        if (this.renewing || !this.sounding) {
            return;
        }
        this.renewing = true;
        try {
            while (this.#wanted !== this.head && !this.#stopped) {
                this.head = this.#wanted;
                const old = this.#pieces.find((p) => p.start > this.#soon());
                const piece = old && await this.#fetch(old.from, PIECE);
                // It came too late, or another tempo moved everything: what is fetched from now on is the newer version anyway.
                if (piece && !this.#stopped && piece.start === old.start && piece.start > this.#soon() - SOON_SECONDS * RATE / 2) {
                    this.#replace(old, piece);
                }
            }
        } finally {
            this.renewing = false;
        }
    }

    /** Frame of the beat that is heard a little later. */
    #soon() {
        return this.position(audio().currentTime) + SOON_SECONDS * RATE;
    }

    #replace(old, piece) {
        const at = (this.#origin + old.start) / RATE;
        old.gain.gain.setValueAtTime(1, at);
        old.gain.gain.linearRampToValueAtTime(0, at + CROSSFADE);
        old.source.stop(at + CROSSFADE);
        this.#leaving = old;
        for (const later of this.#pieces.slice(this.#pieces.indexOf(old) + 1)) {
            later.source.stop();
        }
        this.#pieces = this.#pieces.slice(0, this.#pieces.indexOf(old));
        this.#play(piece, CROSSFADE);
    }

    /** What was heard is let go, so that a long song does not fill the memory. */
    #forget() {
        const now = this.position(audio().currentTime);
        while (this.#pieces.length > 1 && this.#pieces[0].start + this.#pieces[0].frames < now - RATE) {
            this.#pieces.shift().gain.disconnect();
        }
        if (this.#leaving && this.#leaving.start + this.#leaving.frames < now) {
            this.#leaving = null;
        }
    }

    async #tick() {
        this.#forget();
        const last = this.#pieces.at(-1);
        const left = last.start + last.frames - this.position(audio().currentTime);
        if (this.#next === null && left <= 0) {
            this.ended();
        } else if (this.#next !== null && left < AHEAD_SECONDS * RATE && !this.fetching && !this.renewing) {
            try {
                await this.#more();
            } catch (problem) {
                // A server that is away may be back before what is here has been heard.
                const away = problem instanceof TypeError;
                if (!this.#stopped && (!away || left <= 0)) {
                    this.ended();
                    notice(away ? 'The sound cannot be fetched. Is Pestle still running?' : problem.message, { bad: true });
                }
            }
        }
    }

    async #more() {
        this.fetching = true;
        try {
            const from = this.#next;
            const piece = await this.#fetch(from, this.sounding ? PIECE : FIRST_PIECE);
            // Stopped, or a newer version is in its place already.
            if (this.#next === from && !this.#stopped) {
                this.#play(piece);
            }
        } finally {
            this.fetching = false;
        }
    }

    async #fetch(from, count) {
        const response = await fetch(`/beats/${this.beat}/song?from=${from}&count=${count}`);
        if (!response.ok) {
            throw new Error((await response.json()).error);
        }
        const { answer, left, right } = readSound(await response.arrayBuffer());

        return { ...answer, from, left, right };
    }

    #play({ from, start, frames, next, music, meters, left, right }, fade = 0) {
        const context = audio();
        if (!this.sounding) {
            this.#origin = Math.ceil((context.currentTime + 0.05) * RATE);
            this.sounding = true;
        }
        this.music = music;
        this.#next = next;
        const at = (this.#origin + start) / RATE;
        const source = context.createBufferSource();
        const gain = context.createGain();
        source.buffer = toBuffer(left, right);
        source.connect(gain).connect(context.destination);
        gain.gain.setValueAtTime(fade ? 0 : 1, at);
        if (fade) {
            gain.gain.linearRampToValueAtTime(1, at + fade);
        }
        source.start(at);
        this.#pieces.push({ from, start, frames, meters, source, gain });
    }
}
