// Hearing a recording, or a part of it, once or round and round; the view knows where it is.

import { audition, hush } from '../audio/pads.js';
import { audio, heardAt } from '../audio/context.js';
import { notice } from '../notice.js';
import { pause } from '../pause.js';

/** A long recording comes in pieces of so many seconds, one after another without a gap. */
const PIECE = 30;
const AHEAD = 2;

/** A name for where the lines are now: clicks on other lines are another sound. */
function linesName(view) {
    return view.beats.reduce((name, frame) => (31 * name + frame) | 0, view.first);
}

export class WavePlaying {
    #round = false;
    #run = 0;
    #place = () => 0;
    /** From when to when, by the audio clock, what was played last is heard. */
    #heard = null;
    /** The run whose sound is on its way. */
    #begins = 0;

    /** @param moved called whenever the place that plays has changed */
    constructor(view, moved) {
        this.view = view;
        this.moved = moved;
    }

    /** Plays from a frame to another; with edits that make a sound of its own of this stretch, that one. */
    async hear(start, end, edits = []) {
        const run = ++this.#run;
        this.#begins = run;
        if (edits.length > 0) {
            await this.#hearAs(run, start, end, edits);

            return;
        }
        const { view } = this;
        const { rate } = view;
        const round = this.#round && end - start <= PIECE * rate;
        try {
            let at = 0;
            for (let frame = start; frame < end && run === this.#run;) {
                const from = Math.floor(frame / rate / PIECE) * PIECE;
                const next = Math.min(end, frame + PIECE * rate);
                const parameters = { ...(from > 0 ? { from: Math.round(from * rate) } : {}), ...(view.clicks ? { click: linesName(view) } : {}) };
                const [offset, seconds] = [frame / rate - from, (next - frame) / rate];
                const voice = await audition(view.data.url('sound', parameters), offset, seconds, round, at, frame > start);
                if (frame === start) {
                    view.playing = { frame: start };
                    this.#follow(run, voice, start, end, voice.started + offset, round);
                }
                this.voice = voice;
                at = voice.started + offset + seconds;
                frame = next;
                while (frame < end && run === this.#run && !voice.stopped && audio().currentTime < at - AHEAD) {
                    await pause(200);
                }
                if (voice.stopped) {
                    return;
                }
            }
        } catch (problem) {
            this.#fail(problem);
        }
    }

    #fail(problem) {
        this.#begins = 0;
        notice(problem.message, { bad: true });
    }

    async #hearAs(run, start, end, edits) {
        const { view } = this;
        const all = [...JSON.parse(view.data.edits || '[]'), ...edits];
        try {
            const voice = await audition(`/samples/${view.sample}/sound?${new URLSearchParams({ edits: JSON.stringify(all) })}`, 0, (end - start) / view.rate, this.#round);
            this.#follow(run, voice, start, end, voice.started, this.#round, edits.some((edit) => edit.kind === 'reverse'));
        } catch (problem) {
            this.#fail(problem);
        }
    }

    /** Shows where it is, until it ends or is ended. */
    #follow(run, first, start, end, began, round, backwards = false) {
        this.voice = first;
        this.#begins = 0;
        const length = end - start;
        const heard = { from: began, to: round ? Infinity : began + length / this.view.rate };
        this.#heard = heard;
        const passed = (clock) => Math.max(0, (clock - began) * this.view.rate);
        this.#place = (clock) => {
            const within = round ? passed(clock) % length : Math.min(length, passed(clock));

            return backwards ? end - within : start + within;
        };
        const show = () => {
            const now = audio().currentTime;
            if (this.voice.stopped || run !== this.#run) {
                heard.to = Math.min(heard.to, now);
            }
            if (run !== this.#run) {
                return;
            }
            this.view.playing = this.voice.stopped || (passed(now) >= length && !round) ? null : { frame: this.#place(now) };
            this.moved();
            if (this.view.playing) {
                requestAnimationFrame(show);
            }
        };
        show();
    }

    /** Whether something is about to be heard that is still on its way. */
    get begins() {
        return this.#begins === this.#run && this.#run > 0;
    }

    /** The frame that was heard at a moment, an event's timeStamp, however late it is asked for; null when nothing was. */
    frameAt(moment) {
        const clock = heardAt(moment);

        return this.#heard && clock >= this.#heard.from && clock <= this.#heard.to ? Math.round(this.#place(clock)) : null;
    }

    /** Round and round, or no longer. */
    goRound(play) {
        this.#round = !this.#round;
        document.querySelector('[data-wave=round]')?.setAttribute('aria-pressed', String(this.#round));
        if (this.#round) {
            play();
        } else {
            hush();
        }
    }
}
