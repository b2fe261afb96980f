// What takes long is worked out beside the pages; asking again until it is there costs nothing.

import { pause } from './pause.js';

const AGAIN_MS = 700;
const SOON_MS = 300;
const WORKED_OUT = 202;
const UNAVAILABLE = 503;

/**
 * Asks what the engine answers. Where newer questions took its turn it is asked again, as long as it is wanted.
 *
 * @param read takes the answer's body apart: {answer, …}
 * @returns what was read, or {problem} with a sentence why there is nothing
 */
export async function askEngine(url, options, read, wanted = () => true) {
    for (;;) {
        const response = await fetch(url, options);
        const busy = response.status === UNAVAILABLE && response.headers.has('Retry-After');
        if (!response.ok && !(busy && wanted())) {
            return { problem: (await response.json().catch(() => null))?.error ?? 'The sound cannot be fetched. Try again in a moment.' };
        }
        const sound = busy ? null : await read(response);
        if (sound !== null && !(sound.answer.dropped && wanted())) {
            return sound.answer.error === undefined && !sound.answer.dropped ? sound : { problem: sound.answer.error ?? 'Newer sound was asked for meanwhile.' };
        }
        await pause(SOON_MS);
    }
}

/** Asks what was measured: {answer} or {problem}. @param {AbortSignal} signal says that it is not wanted any more */
export function askMeasured(url, signal = null) {
    return askEngine(url, { headers: { Accept: 'application/json' }, signal }, async (response) => ({ answer: await response.json() }));
}

/** As fetch(), but for answers that are still being worked out: it tells how far they are (0 to 1, or null) and asks again. */
export async function patiently(url, told = () => {}, wanted = () => true) {
    for (;;) {
        const response = await fetch(url);
        const busy = response.status === UNAVAILABLE && response.headers.has('Retry-After');
        if (response.status !== WORKED_OUT && !(busy && wanted())) {
            return response;
        }
        const answer = busy ? {} : await response.json();
        if (!busy && (answer.working === undefined || !wanted())) {
            return { ok: false, status: WORKED_OUT, json: async () => answer };
        }
        if (!busy) {
            told(answer.working);
        }
        await pause(busy ? SOON_MS : AGAIN_MS);
    }
}
