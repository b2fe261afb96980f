// Another section, or another pattern of a part, begins with the next bar.

import { notice } from '../notice.js';
import { pause } from '../pause.js';
import { audio, RATE } from './context.js';
import { nextBar } from './loop-places.js';

/** What waits for longer, in seconds, is told. */
const TOLD = 0.25;

/**
 * Waits until shortly before the next bar; gives the frame of the audio clock at which it begins.
 *
 * @param course of what plays
 * @param soon   seconds in which something can be made to sound
 */
export async function atTheBar(loop, course, soon) {
    // Where a page is so busy that it comes too late for a bar, the next is it: earlier asked for, as it will be late again.
    for (let early = soon; ; early *= 2) {
        const when = Math.round(course.when(nextBar(loop, Math.floor(course.frame(audio().currentTime + 2 * early)))) * RATE);
        const wait = when / RATE - audio().currentTime - early;
        if (wait > TOLD) {
            notice('From the next bar on.', { seconds: wait });
        }
        await pause(1000 * Math.max(0, wait));
        if (when / RATE - audio().currentTime > soon / 2) {
            return when;
        }
    }
}
