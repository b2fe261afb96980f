// The loop as the server sends it: whole, or only what changed since the one that is there.

import { app } from '../page.js';
import { askForSound } from './context.js';

/** Asks for the loop of a page; gives the answer and its sound, or a sentence why there is none. */
export async function askForLoop(now, question, have) {
    try {
        return await askForSound(`/beats/${now.beat}/loop`, {
            method: 'POST',
            headers: { 'Content-Type': 'application/json', 'X-Pestle-Token': app().dataset.token },
            body: JSON.stringify({ ...question, have }),
        });
    } catch {
        return { away: true, problem: 'The sound cannot be fetched. Is Pestle still running?' };
    }
}

/** Both sides of the loop that an answer makes of the one before it. */
export function patched(before, answer, left, right) {
    if (!answer.patch || answer.frames !== before?.frames) {
        return { left, right };
    }
    let at = 0;
    for (const [start, frames] of answer.changed) {
        before.left.set(left.subarray(at, at + frames), start);
        before.right.set(right.subarray(at, at + frames), start);
        at += frames;
    }

    return { left: before.left, right: before.right };
}
