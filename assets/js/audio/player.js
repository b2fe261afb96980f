// Plays what PHP rendered: a loop that is exchanged for its newest version while it sounds, or the whole beat.

import { again, app, page } from '../page.js';
import { notice } from '../notice.js';
import { audio, CROSSFADE, RATE, readSound, toBuffer } from './context.js';
import { Song } from './song.js';

const SOON = 0.03;

class Player extends EventTarget {
    playing = false;
    /** "loop" or "song" */
    what = 'loop';
    /** The newest loop: render, frames, ticks, left, right, meters, pattern. */
    loop = null;
    /** Context frame at which the loop was, or would have been, at its start. */
    origin = 0;
    #source = null;
    #wanted = 0;
    #busy = false;
    #waiting = null;
    #preview = null;
    #song = null;

    async toggle() {
        if (this.playing) {
            this.stop();
        } else {
            await this.play();
        }
    }

    /** @param {number} delay seconds until the first frame, for a count-in */
    async play(delay = 0) {
        audio();
        this.playing = true;
        this.#tell();
        if (this.what === 'song') {
            await this.#startSong();
        } else {
            if (!this.loop || this.loop.pattern !== page().pattern || this.#busy) {
                await this.refresh();
            }
            if (this.playing && this.loop) {
                const start = Math.ceil((audio().currentTime + SOON + delay) * RATE);
                this.origin = start;
                this.#start(start, 0);
            }
        }
        this.#tell();
    }

    stop() {
        this.playing = false;
        this.#end(this.#source, audio().currentTime);
        this.#source = null;
        this.#song?.stop();
        this.#song = null;
        this.#tell();
    }

    /** Fetches what changed since the last render, and goes over to it; the whole beat at its next piece. */
    async refresh() {
        // When it fails, the next piece is asked for in the newer version and says why.
        this.#song?.renew(page().head).catch(() => {});
        this.#wanted += 1;
        if (this.#busy) {
            return;
        }
        this.#busy = true;
        try {
            while (this.#wanted > 0) {
                this.#wanted = 0;
                await this.#fetchLoop();
            }
        } finally {
            this.#busy = false;
            this.#tell();
        }
    }

    /** Lets a change be heard that is not made yet; null goes back to what is. */
    preview(fields) {
        this.#preview = fields;
        if (this.playing && this.what === 'loop') {
            this.refresh();
        }
    }

    endPreview() {
        this.#preview = null;
    }

    /** Frames since the start of the loop, or of the beat; 0 when nothing plays. */
    position(at = audio().currentTime) {
        if (!this.playing) {
            return 0;
        }
        if (this.#song) {
            return Math.max(0, this.#song.position(at));
        }
        const frames = Math.floor(at * RATE) - this.origin;

        return this.loop && frames >= 0 ? frames % this.loop.frames : Math.min(0, frames);
    }

    /** When, by the audio clock, the next beat falls; at once when nothing loops. */
    nextBeat() {
        if (!this.loop || !this.playing || this.#song) {
            return 0;
        }
        const now = audio().currentTime;
        const beat = 960;
        const left = beat - (this.ticks(now) % beat);

        return now + left * this.loop.frames / this.loop.ticks / audio().sampleRate;
    }

    /** Place in ticks of the loop that is heard now. */
    ticks(at) {
        return this.loop ? this.position(at) * this.loop.ticks / this.loop.frames : 0;
    }

    /** What is heard now, for meters: {meters, column}. */
    meters() {
        const from = this.#song ? this.#song.meters() : this.loop && { meters: this.loop.meters, frame: this.position() };

        return from && this.playing && from.frame >= 0 ? { ...from, column: Math.floor(from.frame / from.meters.every) } : null;
    }

    /** Version of the beat that the whole of it is heard in from the next piece on. */
    get songHead() {
        return this.#song?.head ?? null;
    }

    get songFrames() {
        return this.#song?.music ?? 0;
    }

    async #fetchLoop() {
        const now = page();
        const patchable = this.loop?.pattern === now.pattern && this.loop.beat === now.beat;
        let response;
        try {
            response = await fetch(`/beats/${now.beat}/loop`, {
                method: 'POST',
                headers: { 'Content-Type': 'application/json', 'X-Pestle-Token': app().dataset.token },
                body: JSON.stringify({ pattern: now.pattern, have: patchable ? this.loop.render : '', ...(this.#preview ? { preview: this.#preview } : {}) }),
            });
        } catch {
            notice('The sound cannot be fetched. Is Pestle still running?', { bad: true });

            return;
        }
        if (!response.ok) {
            if (!this.#preview) {
                notice((await response.json()).error, { bad: true });
            }

            return;
        }
        const { answer, left, right } = readSound(await response.arrayBuffer());
        if (answer.gone) {
            // The page without the pattern is on its way; one that stays had it taken away in another window.
            setTimeout(() => page()?.pattern === now.pattern && page().head === now.head && again(), 1000);

            return;
        }
        this.#await(answer.working);
        const before = this.loop;
        if (answer.patch && answer.frames === before?.frames && answer.changed.length === 0) {
            this.loop = { ...before, render: answer.render, meters: answer.meters };

            return;
        }
        const next = { ...answer, pattern: now.pattern, beat: now.beat };
        if (answer.patch && answer.frames === before?.frames) {
            next.left = before.left;
            next.right = before.right;
            let at = 0;
            for (const [start, frames] of answer.changed) {
                next.left.set(left.subarray(at, at + frames), start);
                next.right.set(right.subarray(at, at + frames), start);
                at += frames;
            }
        } else {
            next.left = left;
            next.right = right;
        }
        this.#exchange(before, next);
        this.dispatchEvent(new Event('loop'));
    }

    /** While a lighter sound stands for edits that are worked out, looks again until they are there. */
    #await(working) {
        clearTimeout(this.#waiting);
        if (working !== undefined) {
            notice(`Edits are being worked out: ${Math.round(100 * working)} %. Until then you hear a lighter version.`);
            this.#waiting = setTimeout(() => this.refresh(), 1500);
        }
    }

    /** Goes over to another version of the loop where it is, by a short crossfade; a new length keeps the place in ticks. */
    #exchange(before, next) {
        this.loop = next;
        if (!this.playing || this.what !== 'loop' || !this.#source) {
            return;
        }
        const when = Math.ceil((audio().currentTime + SOON) * RATE);
        if (before && before.frames !== next.frames && when > this.origin) {
            const ticks = ((when - this.origin) % before.frames) * before.ticks / before.frames;
            this.origin = when - Math.round((ticks % next.ticks) * next.frames / next.ticks);
        }
        const offset = (((when - this.origin) % next.frames) + next.frames) % next.frames;
        this.#end(this.#source, when / RATE);
        this.#start(when, offset, CROSSFADE);
    }

    #start(frame, offset, fade = 0) {
        const context = audio();
        const source = context.createBufferSource();
        const gain = context.createGain();
        source.buffer = toBuffer(this.loop.left, this.loop.right);
        source.loop = true;
        source.connect(gain).connect(context.destination);
        gain.gain.setValueAtTime(fade ? 0 : 1, frame / RATE);
        if (fade) {
            gain.gain.linearRampToValueAtTime(1, frame / RATE + fade);
        }
        source.start(frame / RATE, offset / RATE);
        this.#source = { source, gain };
    }

    #end(playing, at) {
        if (playing) {
            playing.gain.gain.setValueAtTime(1, at);
            playing.gain.gain.linearRampToValueAtTime(0, at + CROSSFADE);
            playing.source.stop(at + CROSSFADE);
        }
    }

    async #startSong() {
        const song = new Song(page().beat, page().head, () => this.stop());
        this.#song = song;
        try {
            await song.start();
        } catch (problem) {
            notice(problem.message, { bad: true });
            this.stop();
        }
    }

    #tell() {
        this.dispatchEvent(new Event('state'));
    }

    get busy() {
        return this.#busy || (this.#song !== null && !this.#song.sounding);
    }
}

export const player = new Player();
