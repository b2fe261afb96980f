// The whole beat, or a long loop that goes round, fetched a few seconds ahead of what is heard and joined on whole frames.

import { notice } from '../notice.js';
import { askForSound, audio, CROSSFADE, output, RATE, toBuffer } from './context.js';
import { Course } from './course.js';
import { framesAt, loopFrames, loopTicks, sameTime, ticksAt } from '../time.js';

/** Segments of a piece: few at first, so that something is heard at once. */
const FIRST_PIECE = 3;
const PIECE = 24;
/** What comes in by somebody else's clock has more time to be there. */
const JOINED_PIECE = 12;
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
    /** Where it is; null until the first piece is there. */
    #course = null;
    /** What is fetched: {from: segment, origin: frame at which that begins, start and frames: what is heard of it, meters, source, gain}, in order. */
    #pieces = [];
    /** The tempi it is heard in: {at: from which moment on, ahead: frames that its own count is ahead, music, ticks, time}. */
    #spans = [];
    #next = 0;
    /** Moment of the audio clock before which nothing is heard. */
    #begins = 0;
    #count;
    #timer = null;
    #stopped = false;
    #wanted = null;

    /**
     * @param what {beat, head: version that is played, time: how its tempo goes, what: id of what goes round, or '' for the whole beat, from: segment, hear: how it is heard otherwise, comeIn: asked once there is sound, gives the moment of the audio clock at which it begins, join: {when, tick}: by somebody else's clock it comes in at a moment of the audio clock, with a tick of what plays}
     * @param on   {ended, working: told how far it is while a lighter sound stands for edits, and if wanted lasts: told how many frames a pass takes}
     */
    constructor({ beat, head, time, what = '', from = 0, hear = '', comeIn = null, join = null }, on) {
        Object.assign(this, { beat, head, time, what, hear, comeIn, join, on });
        this.#next = from;
        this.#count = join ? JOINED_PIECE : FIRST_PIECE;
        this.joining = join !== null;
    }

    get course() {
        return this.#course ?? new Course(0);
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
        return this.sounding ? Math.floor(this.#course.frame(at)) : 0;
    }

    /** What is heard at a moment: its place in ticks, on and on, and its tempo. */
    heard(at) {
        const span = this.#spans.findLast((one) => one.at <= at) ?? this.#spans[0];

        return span ? { ticks: this.#tickOf(this.#course.frame(at) + span.ahead, span), bpm: span.time.bpm } : null;
    }

    meters() {
        const frame = this.position(audio().currentTime);
        const piece = this.#pieces.findLast((p) => p.start <= frame);

        return piece ? { meters: piece.meters, frame: frame - piece.origin } : null;
    }

    /** From a moment on it goes so fast; what is to come later comes when its turn is now. */
    turn(at, rate) {
        if (!this.sounding || rate === this.#course.rate) {
            return;
        }
        this.#course.turn(at, rate);
        for (const piece of this.#pieces) {
            if (piece.at <= at) {
                piece.source.playbackRate.setValueAtTime(rate, at);
            } else {
                piece.source.stop();
                piece.gain.disconnect();
                this.#sound(piece);
            }
        }
    }

    /**
     * Goes over to a newer version of the beat a moment later than what is heard; at another tempo it keeps its place in the music.
     *
     * @return whether what was asked for here came; not where an earlier call brought it along
     */
    async renew(head, time, hear = '', soonest = SOON_SECONDS) {
        this.#wanted = { head, time, hear };
        if (this.renewing || !this.sounding) {
            return false;
        }
        this.renewing = true;
        let soon = soonest;
        try {
            while ((this.#wanted.head !== this.head || this.#wanted.hear !== this.hear || this.#wanted.time.bpm !== this.time.bpm) && !this.#stopped) {
                const { head: wanted, time } = this.#wanted;
                const same = sameTime(this.time, time);
                const at = this.position(audio().currentTime) + soon * RATE;
                const old = this.#pieces.findLast((p) => p.start <= at) ?? this.#pieces[0];
                const from = Math.min(old.from + Math.max(0, Math.floor((at - old.origin) / SEGMENT)), this.#next ?? Infinity);
                this.hear = this.#wanted.hear;
                // At another tempo it goes on at the same tick, in the midst of a segment of what was.
                const piece = await (same ? this.#ask(`from=${from}`, RENEWED_PIECE, time) : this.#ask(`tick=${Math.ceil(this.#tickOf(at + SEGMENT, this))}`, RENEWED_PIECE, time));
                if (this.#stopped) {
                    return false;
                }
                // Where the new one is put in: in its midst, or when everything moved, where its start was before.
                const cut = same ? Math.max(piece.start, Math.round(Math.min(at, piece.start + piece.frames - SEGMENT))) : Math.round(this.#frameOf(this.#tickOf(piece.start, { ...piece, time }), this));
                if (cut < this.position(audio().currentTime) + LATEST_SECONDS * RATE && soon < 8 * SOON_SECONDS) {
                    soon *= 2;
                    continue;
                }
                Object.assign(this, { head: wanted, time });
                this.#replace(cut, piece, same);
            }
        } finally {
            this.renewing = false;
        }

        return true;
    }

    #replace(cut, piece, same) {
        const at = this.#course.when(cut);
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
        const moved = same ? 0 : cut - piece.start;
        this.#course.count(-moved);
        this.#spans = this.#spans.map((span) => ({ ...span, ahead: span.ahead + moved })).slice(-8);
        if (!same) {
            this.#spans.push({ at, ahead: 0, music: piece.music, ticks: piece.ticks, time: this.time });
        }
        this.#pieces = this.#pieces.filter((p) => p.start < cut);
        for (const old of this.#pieces) {
            old.start -= moved;
            old.origin -= moved;
        }
        this.#count = RENEWED_PIECE;
        this.#play(piece, CROSSFADE, same ? cut - piece.start : 0);
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
            const piece = await this.#ask(this.joining ? `tick=${Math.round(this.join.tick)}` : `from=${from}`, this.#count);
            this.#count = Math.min(PIECE, 2 * this.#count);
            if (!this.sounding && !this.#stopped && this.comeIn) {
                this.#begins = await this.comeIn();
            }
            // Stopped, or a newer version is in its place already.
            if (this.#next === from && !this.#stopped) {
                this.#play(piece);
            }
        } finally {
            this.fetching = false;
        }
    }

    async #ask(where, count, { other, bpm } = this.time) {
        const { problem, answer, left, right } = await askForSound(`/beats/${this.beat}/piece?what=${this.what}&${where}&count=${count}&hear=${this.hear}${other ? `&tempo=${bpm}` : ''}`, {}, () => !this.#stopped);
        if (problem) {
            throw new Error(problem);
        }
        if (answer.gone) {
            throw new Error('This section is no longer in the beat.');
        }
        this.on.working(answer.working);

        return { ...answer, left, right };
    }

    /** Place in ticks, on and on over the passes of what goes round, of a frame; music and ticks are a pass's. */
    #tickOf(frame, { music, ticks, time }) {
        const pass = this.what ? Math.floor(frame / music) : 0;

        return this.what ? pass * ticks + loopTicks(frame - pass * music, { frames: music, ticks, places: time.places }) : ticksAt(frame, time);
    }

    #frameOf(tick, { music, ticks, time }) {
        const pass = this.what ? Math.floor(tick / ticks) : 0;

        return this.what ? pass * music + loopFrames(tick - pass * ticks, { frames: music, ticks, places: time.places }) : framesAt(tick, time);
    }

    /** Puts a piece behind those that are there, without so many frames of its start, and lets it sound when its time comes. */
    #play(piece, fade = 0, without = 0) {
        const { next, music, ticks } = piece;
        const [start, frames] = [piece.start + without, piece.frames - without];
        const soon = Math.ceil((audio().currentTime + 0.05) * RATE);
        const last = this.#pieces.at(-1);
        if (!this.sounding) {
            this.#course = new Course(this.join ? Math.round(this.join.when * RATE - this.#frameOf(this.join.tick, { ...piece, time: this.time })) : Math.max(soon, Math.round(this.#begins * RATE)) - start);
            this.#spans = [{ at: 0, ahead: 0, music, ticks, time: this.time }];
            this.sounding = true;
        } else if (last && last.start + last.frames !== start && !this.join) {
            // A change of tempo moved everything: what comes now follows what is heard, wherever that lies.
            this.#course.count(start - last.start - last.frames);
        }
        if (!this.join && this.#course.when(start) * RATE < soon - 0.05 * RATE) {
            // It came too late: there is a gap, and everything is later by it.
            this.#course.at(soon / RATE, start);
        }
        Object.assign(this, { music, ticks });
        this.on.lasts?.(music);
        this.#next = next;
        const kept = { from: piece.from, origin: piece.start, start, frames, meters: piece.meters, buffer: toBuffer(piece.left.subarray(without), piece.right.subarray(without)), fade };
        this.#pieces.push(kept);
        this.#sound(kept);
        this.joining = false;
    }

    #sound(piece) {
        const context = audio();
        // What comes in late can lie before the clock began.
        piece.at = Math.max(0, this.#course.when(piece.start));
        piece.source = context.createBufferSource();
        piece.gain = context.createGain();
        piece.source.buffer = piece.buffer;
        piece.source.playbackRate.value = this.#course.rate;
        piece.source.connect(piece.gain).connect(output());
        piece.gain.gain.setValueAtTime(piece.fade ? 0 : 1, piece.at);
        if (piece.fade) {
            piece.gain.gain.linearRampToValueAtTime(1, piece.at + piece.fade);
        }
        // By somebody else's clock it is never put off: it comes in at its moment, or as soon as it is there, in its midst.
        const at = this.join ? Math.max(piece.at, this.join.when, context.currentTime + LATEST_SECONDS) : piece.at;
        piece.source.start(at, Math.max(0, at > piece.at ? this.#course.frame(at) - piece.start : 0) / RATE);
    }
}
