// Files go to Pestle in parts, however large they are.

import { app, failure } from './page.js';
import { pause } from './pause.js';

export async function ask(url, options = {}) {
    const response = await fetch(url, { ...options, headers: { 'X-Pestle-Token': app().dataset.token, ...options.headers } });
    if (!response.ok) {
        throw new Error((await failure(response)).error);
    }

    return response.json();
}

/** A part is sent again when the line breaks; the server takes it twice without harm. */
async function sendPart(id, at, bytes, what) {
    for (let tries = 0; ; tries += 1) {
        try {
            return await ask(`/uploads/${id}?at=${at}${what ? `&for=${what}` : ''}`, { method: 'PUT', body: bytes, headers: { 'Content-Type': 'application/octet-stream' } });
        } catch (problem) {
            if (tries >= 3 || !(problem instanceof TypeError)) {
                throw problem;
            }
            await pause(400 * 2 ** tries);
        }
    }
}

/**
 * Sends a file; gives the upload's id, or null when it was given up on the way.
 *
 * @param went takes how much has gone, 0 to 1, and says whether it is still wanted
 * @param what for something other than a sample, e.g. "kit"
 * @param tags of one of many files that come together: listened to when all are there
 */
export async function sendFile(file, went, what = '', tags = null) {
    const { id, part } = await ask('/uploads', { method: 'POST', body: JSON.stringify({ name: file.name.slice(0, 120), size: file.size, ...(tags === null ? {} : { tags }) }), headers: { 'Content-Type': 'application/json' } });
    for (let at = 0; at < file.size; at += part) {
        await sendPart(id, at, file.slice(at, at + part), what);
        if (!went(Math.min(1, (at + part) / file.size))) {
            await ask(`/uploads/${id}`, { method: 'DELETE' });

            return null;
        }
    }

    return id;
}
