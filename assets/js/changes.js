// Changes go to the server one after another; each answer is the page as it is afterwards.

import { again, app, failure, page, showPage } from './page.js';
import { heldHashes } from './held.js';
import { notice } from './notice.js';

let chain = Promise.resolve(true);

/**
 * Makes a change; resolves to whether it was made.
 *
 * @param fields what it says, or a function that says it when its turn has come: for what follows from the page as it
 *               then is, since changes before it may still be on their way
 */
export function change(fields) {
    const changeId = crypto.randomUUID();

    return enqueue('changes', () => ({ ...(typeof fields === 'function' ? fields() : fields), changeId }));
}

export function undo() {
    return enqueue('undo', () => ({}));
}

export function redo() {
    return enqueue('redo', () => ({}));
}

function enqueue(action, fields) {
    const { beat } = page();
    // Another beat may be open by then; its head says nothing about this one.
    chain = chain.then(() => send(beat, action, fields, page()?.beat === beat ? String(page().head) : 'newest')).catch(() => false);

    return chain;
}

async function send(beat, action, fields, head) {
    const from = location.href;
    const body = JSON.stringify(fields());
    saved('Saving');
    let response;
    try {
        response = await reached(`/beats/${beat}/${action}`, {
            method: 'POST',
            headers: {
                'Content-Type': 'application/json',
                'X-Pestle-Token': app().dataset.token,
                'X-Pestle-Head': head,
                'HX-Request': 'true',
                'HX-Current-URL': from,
                'X-Pestle-Has': heldHashes(),
            },
            body,
        });
    } catch {
        saved('Not saved');
        notice('Pestle cannot be reached. Is it still running? Your last change is not saved.', {
            bad: true, actions: { 'Try again': () => enqueue(action, fields) },
        });

        return false;
    }
    if (response.ok) {
        const html = await response.text();
        // Another page may have been opened meanwhile: then that one is shown as it is now.
        if (location.href === from) {
            showPage(html);
        } else {
            await again();
        }

        return true;
    }
    const problem = await failure(response);
    saved('Not saved');
    if (response.status === 409) {
        notice(problem.error, {
            bad: true,
            actions: {
                'Do it on the newest': () => { chain = chain.then(() => send(beat, action, fields, 'newest')); },
                'See the newest': () => location.reload(),
            },
        });
    } else {
        notice(problem.error, { bad: true });
        await reload();
    }

    return false;
}

/** Brings the page back to what the server holds, after an edit that was refused. */
async function reload() {
    const response = await fetch(location.href, { headers: { Accept: 'text/html' } });
    if (response.ok) {
        showPage(await response.text());
    }
}

/** A server that is being started again is as good as none. */
async function reached(url, options) {
    const response = await fetch(url, options);
    if ([502, 503, 504].includes(response.status)) {
        throw new TypeError('Nobody answered.');
    }

    return response;
}

function saved(text) {
    const label = document.getElementById('saved');
    if (label) {
        label.textContent = text;
    }
}
