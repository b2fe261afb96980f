// Hearing a recording, or a part of it, once or round and round; the view knows where it is.

import { audition, hush } from '../audio/pads.js';
import { audio, heardAt } from '../audio/context.js';
import { notice } from '../notice.js';

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

    /** @param moved called whenever the place that plays has changed */
    constructor(view, moved) {
        this.view = view;
        this.moved = moved;
    }

    /** Plays from a frame to another; with edits that make a sound of its own of this stretch, that one. */
    async hear(start, end, edits = []) {
        const run = ++this.#run;
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
                    await new Promise((resolve) => { setTimeout(resolve, 200); });
                }
                if (voice.stopped) {
                    return;
                }
            }
        } catch (problem) {
            notice(problem.message, { bad: true });
        }
    }

    async #hearAs(run, start, end, edits) {
        const { view } = this;
        const all = [...JSON.parse(view.data.edits || '[]'), ...edits];
        try {
            const voice = await audition(`/samples/${view.sample}/sound?${new URLSearchParams({ edits: JSON.stringify(all) })}`, 0, (end - start) / view.rate, this.#round);
            this.#follow(run, voice, start, end, voice.started, this.#round, edits.some((edit) => edit.kind === 'reverse'));
        } catch (problem) {
            notice(problem.message, { bad: true });
        }
    }

    /** Shows where it is, until it ends or is ended. */
    #follow(run, first, start, end, began, round, backwards = false) {
        this.voice = first;
        const length = end - start;
        const passed = (clock) => Math.max(0, (clock - began) * this.view.rate);
        this.#place = (clock) => {
            const within = round ? passed(clock) % length : Math.min(length, passed(clock));

            return backwards ? end - within : start + within;
        };
        const show = () => {
            if (run !== this.#run) {
                return;
            }
            const now = audio().currentTime;
            this.view.playing = this.voice.stopped || (passed(now) >= length && !round) ? null : { frame: this.#place(now) };
            this.moved();
            if (this.view.playing) {
                requestAnimationFrame(show);
            }
        };
        show();
    }

    /** The frame that was heard at a moment, an event's timeStamp. */
    frameAt(moment) {
        return Math.round(this.#place(heardAt(moment)));
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
