// Plays what PHP rendered: a loop that is exchanged for its newest version while it sounds, or in pieces the whole beat or a long loop.

import { again, loopTime, otherTempo, page, songTime } from '../page.js';
import { notice } from '../notice.js';
import { audio, RATE, setOutput } from './context.js';
import { Bridge, BRIDGE_AFTER } from './bridge.js';
import { loopOf } from '../loop-range.js';
import { askForLoop, patched } from './loop-answer.js';
import { atTheBar } from './at-the-bar.js';
import { Course } from './course.js';
import { switches, within } from './loop-places.js';
import { Pieces, SEGMENT } from './pieces.js';
import { Sounding } from './sounding.js';
import { Working } from './working.js';
import { pause } from '../pause.js';
import { loopFrames, loopTicks } from '../time.js';

const SOON = 0.03;
/** A loop that takes longer, in ms, was slow. */
const SLOW = 250;
/** What is not heard is fetched when the page has rested for so long, in ms: what changes sooner is worked out in vain. */
const REST = 600;

class Player extends EventTarget {
    playing = false;
    /** "loop" or "song" */
    what = 'loop';
    /** Whether it goes by somebody else's clock. */
    joined = false;
    /** The newest loop: render, frames, ticks, section (or the name of a range); left, right and meters, unless it is long. */
    loop = null;
    #course = new Course(0);
    #sounding = new Sounding();
    #wanted = 0;
    #busy = false;
    #working = new Working(() => this.refresh());
    #preview = null;
    /** Set while a change waits for the page to rest. */
    #resting = null;
    /** How it is heard otherwise for a while. */
    hearing = '';
    #heardAt = 0;
    /** What plays in pieces. */
    #pieces = null;
    #bridged = new Bridge();
    /** Whether the whole loop took long when it was asked for last. */
    #slow = false;

    toggle() { return this.playing ? this.stop() : this.play(); }

    /** The song from a segment on; to come in with, its first sound is waited for, and then for the moment that is given. */
    async playSong(from, comeIn = null) {
        this.stop();
        this.what = 'song';
        await this.play(0, from, comeIn);
    }

    /**
     * @param {number} delay seconds until the first frame, for a count-in
     * @param {number} from  segment the song begins with
     */
    async play(delay = 0, from = 0, comeIn = null) {
        audio();
        this.playing = true;
        this.#tell();
        if (this.what === 'song') {
            await this.#startPieces({ time: songTime(), from, comeIn });
        } else {
            const there = this.loop?.section === loopOf(page()) && this.loop.beat === page().beat;
            if (there && this.#resting !== null) {
                // What was changed just now is waited for so long; else it comes while it plays.
                await Promise.race([this.refresh(), pause(delay === 0 ? BRIDGE_AFTER : 0)]);
            } else if (!there && delay === 0) {
                await this.#begin();
            } else if (!there) {
                await this.refresh();
            }
            if (this.playing && this.loop?.long) {
                if (!this.#pieces) {
                    await pause(1000 * delay);
                    await this.#goRound(0);
                }
            } else if (this.playing && this.loop && !this.#sounding.on && !this.#pieces) {
                const at = Math.ceil((audio().currentTime + SOON + delay) * RATE);
                this.#course = new Course(at);
                this.#sounding.start(at, 0, this.loop, 1, false);
            }
        }
        this.#tell();
    }

    /** While the loop is on its way for the first time, its first pieces are heard at once. */
    async #begin() {
        this.refresh();
        await this.#playPieces(loopOf(page()));
    }

    async #playPieces(section, join = null) {
        await this.#startPieces({ time: section ? loopTime(section) : songTime(), what: section, join });
        if (section && this.#pieces && (join || this.loop?.section !== section)) {
            this.loop = { long: true, render: '', frames: this.#pieces.music, ticks: this.#pieces.ticks, places: loopTime(section).places, section, beat: page().beat };
        }
    }

    /**
     * Comes in by somebody else's clock: in pieces, as those go over to another tempo at once. What played ends there.
     *
     * @param join {when, tick}: moment of the audio clock, and what is heard then, in ticks on and on
     */
    async join(join) {
        const before = this.#pieces ?? this.#sounding;
        [this.playing, this.joined] = [true, true];
        await this.#playPieces(this.what === 'song' ? '' : loopOf(page()), join);
        before.stop(join.when);
        this.#tell();
    }

    /** Goes on by its own clock. */
    release() {
        this.turn(audio().currentTime, 1);
        this.joined = false;
        this.refresh();
    }

    /** Where what plays is. */
    get course() { return this.#pieces?.course ?? this.#course; }

    /** From a moment of the audio clock on it goes so fast, as somebody else's clock does. */
    turn(at, rate) {
        if (this.#sounding.on) {
            this.#course.turn(at, rate);
            this.#sounding.turn(at, rate);
        }
        this.#pieces?.turn(at, rate);
    }

    /** What of pieces is heard at a moment: {ticks, bpm}. */
    heard(at) { return this.#pieces?.heard(at) ?? null; }

    stop() {
        this.playing = false;
        this.#sounding.stop(audio().currentTime);
        this.#pieces?.stop();
        [this.#pieces, this.joined] = [null, false];
        this.#tell();
    }

    /** What there is to hear changed: fetched at once while it plays, and else in time for Space to be heard at once. */
    renew() {
        clearTimeout(this.#resting);
        this.#resting = null;
        if (this.playing) {
            this.refresh();
        } else {
            this.#resting = setTimeout(() => this.refresh(), REST);
        }
    }

    /** Fetches what changed since the last render, and goes over to it; the whole beat at its next piece. */
    async refresh() {
        clearTimeout(this.#resting);
        this.#resting = null;
        // When it fails, the next piece is asked for in the newer version and says why.
        if (this.what === 'song') {
            this.#pieces?.renew(page().head, songTime(), this.hearing).catch(() => {});
        } else if (this.joined) {
            this.#pieces?.renew(page().head, loopTime(this.loop?.section), this.hearing).catch(() => {});
        }
        if (this.joined) {
            return;
        }
        this.#wanted += 1;
        if (this.#busy) {
            return;
        }
        this.#busy = true;
        try {
            while (this.#wanted > 0) {
                this.#wanted = 0;
                if (this.#slow) {
                    await this.#bridged.stretch(this);
                }
                const asked = performance.now();
                const whole = this.#fetchLoop();
                await this.#bridged.over(this, whole, this.#slow);
                await whole;
                this.#slow = performance.now() - asked > SLOW;
            }
        } finally {
            this.#bridged.end();
            this.#busy = false;
            this.#tell();
        }
    }

    /** Whether a stretch of the loop can be put in where it plays. */
    get bridges() {
        return this.playing && this.what === 'loop' && this.#sounding.on && this.loop !== null && !this.loop.long;
    }

    /** Other sound of the same loop, at once. */
    take(sound) {
        const when = Math.ceil((audio().currentTime + SOON) * RATE);
        this.#sounding.start(when, within(this.#course.frame(when / RATE), this.loop), sound, this.#course.rate);
    }

    /** What is asked of the loop by now. */
    question() {
        return { what: loopOf(page()), ...(this.#preview ? { preview: this.#preview } : {}), ...(this.hearing ? { hear: this.hearing } : {}), ...(otherTempo() ? { tempo: String(otherTempo()) } : {}) };
    }

    /** Lets a change be heard that is not made yet; null ends it. */
    preview(fields) {
        this.#preview = fields;
        if (this.playing && this.what === 'loop') {
            this.refresh();
        }
    }

    /**
     * Plays the beat otherwise for a while, to compare: a mix that was kept, without its master, one band; '' ends it.
     *
     * @param gainDb by which it is played softer or louder meanwhile
     */
    hear(how, gainDb = 0) {
        this.hearing = how;
        if (how !== '' || this.#heardAt !== 0) {
            this.#heardAt = gainDb;
            setOutput(gainDb);
        }
        if (!this.playing && how !== '') {
            this.play().then(() => this.refresh());
        } else if (this.playing) {
            this.refresh();
        }
    }

    /** The song goes over to being heard otherwise, so many seconds later than what is heard; tells whether it was this that came. */
    hearSong(how, soon) {
        this.hearing = how;

        return this.#pieces?.renew(page().head, songTime(), how, soon) ?? false;
    }

    endPreview() { this.#preview = null; }

    /** Frames since the start of the loop, or of the beat; 0 when nothing plays. */
    position(at = audio().currentTime) {
        if (!this.playing) {
            return 0;
        }
        if (this.#pieces && (this.what === 'song' || !this.#pieces.sounding)) {
            return Math.max(0, this.#pieces.position(at));
        }
        const frames = Math.floor(this.course.frame(at));

        return this.loop && frames >= 0 ? frames % this.loop.frames : Math.min(0, frames);
    }

    /** Place in ticks of the loop. */
    ticks(at) {
        return this.loop ? loopTicks(this.position(at), this.loop) : 0;
    }

    /** What is heard now, for meters: {meters, column}. */
    meters() {
        const from = this.#pieces ? this.#pieces.meters() : this.loop && !this.loop.long && { meters: this.loop.meters, frame: this.position() };

        return from && this.playing && from.frame >= 0 ? { ...from, column: Math.floor(from.frame / from.meters.every) } : null;
    }

    /** Version of the beat that the whole of it is heard in from the next piece on. */
    get songHead() {
        return this.#pieces?.head ?? null;
    }

    /** Whether something of it is on its way to the loudspeaker. */
    get sounds() {
        return this.#sounding.on || this.#pieces?.sounding === true;
    }

    async #fetchLoop() {
        const now = page();
        const asked = this.question();
        const section = loopOf(now);
        const patchable = this.loop?.section === section && this.loop.beat === now.beat;
        const { problem, away, answer, left, right } = await askForLoop(now, asked, patchable ? this.loop.render : '');
        if (problem) {
            if (away || !this.#preview) {
                notice(problem, { bad: true });
            }

            return;
        }
        if (this.joined || (this.#wanted > 0 && this.#bridged.isOn)) {
            // What is heard is newer by now.
            return;
        }
        if (answer.gone) {
            // The page without the section is on its way; one that stays had it taken away in another window.
            setTimeout(() => loopOf(page() ?? {}) === section && page().head === now.head && again(), 1000);

            return;
        }
        this.#working.tell(answer.working);
        const before = this.loop;
        if (answer.patch && answer.frames === before?.frames && answer.changed.length === 0) {
            this.loop = { ...before, render: answer.render, meters: answer.meters };

            return;
        }
        const next = { ...answer, section, beat: now.beat, plays: now.plays, bar: now.bar };
        if (answer.long || before?.long || (this.#pieces && this.what === 'loop')) {
            await this.#exchangeLong(before, next, left, right);
            this.dispatchEvent(new Event('loop'));

            return;
        }
        Object.assign(next, patched(before, answer, left, right));
        const when = this.playing && this.what === 'loop' && this.#sounding.on && !this.#preview && switches(before, next) ? await atTheBar(before, this.#course, SOON) : null;
        // What was asked for meanwhile is newer.
        if (when === null || this.#wanted === 0) {
            this.#exchange(before, next, when);
            this.dispatchEvent(new Event('loop'));
        }
    }

    /**
     * Goes over to another version of the loop where it is, by a short crossfade; a new length keeps the place in ticks.
     *
     * @param at frame at which it does so; null for as soon as can be
     */
    #exchange(before, next, at = null) {
        this.loop = next;
        if (!this.playing || this.what !== 'loop' || !this.#sounding.on) {
            return;
        }
        const when = Math.max(at ?? 0, Math.ceil((audio().currentTime + SOON / 2) * RATE), at === null ? Math.ceil((audio().currentTime + SOON) * RATE) : 0);
        if (at !== null && before.section !== next.section) {
            this.#course.at(when / RATE, 0);
        } else if (before && before.frames !== next.frames) {
            this.#course.exchange(when / RATE, before, next, otherTempo() !== null);
        }
        this.#sounding.start(when, within(this.#course.frame(when / RATE), next), next, this.#course.rate);
    }

    /** A loop that is long, or was: it goes on in pieces, or again as a whole, at the same place in ticks. */
    async #exchangeLong(before, next, left, right) {
        const same = before?.long && next.long && before.frames === next.frames && before.section === next.section;
        const ticks = before && before.section === next.section ? this.ticks(audio().currentTime) : 0;
        this.loop = next.long ? next : { ...next, left, right };
        if (!this.playing || this.what !== 'loop' || !(this.#sounding.on || this.#pieces)) {
            return;
        }
        if (same) {
            this.#pieces?.renew(page().head, loopTime(this.loop.section), this.hearing).catch(() => {});

            return;
        }
        const at = Math.max(0, Math.round(loopFrames(ticks % next.ticks, next)));
        const when = Math.ceil((audio().currentTime + SOON) * RATE);
        this.#sounding.stop(when / RATE);
        this.#pieces?.stop(when / RATE);
        this.#pieces = null;
        if (next.long) {
            await this.#goRound(at);
        } else {
            const offset = (at + Math.round(SOON * RATE)) % next.frames;
            this.#course = new Course(when - offset);
            this.#sounding.start(when, offset, this.loop, 1);
        }
    }

    /** @param frame from which a long loop is wanted */
    #goRound(frame) {
        return this.#startPieces({ time: loopTime(this.loop.section), what: this.loop.section, from: Math.floor(frame / SEGMENT) });
    }

    async #startPieces(what) {
        const lasts = (music) => { this.loop = this.joined && this.loop ? { ...this.loop, frames: music } : this.loop; };
        const { beat, head } = page();
        this.#pieces = new Pieces({ beat, head, hear: this.hearing, ...what }, { lasts, ended: () => this.stop(), working: (progress) => this.#working.tell(progress) });
        try {
            await this.#pieces.start();
        } catch (problem) {
            notice(problem.message, { bad: true });
            this.stop();
        }
    }

    #tell() {
        this.dispatchEvent(new Event('state'));
    }

    get busy() {
        return this.#busy || this.#resting !== null || (this.#pieces !== null && !this.#pieces.sounding);
    }
}

export const player = new Player();
