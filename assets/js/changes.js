// Changes go to the server one after another; each answer is the page as it is afterwards.

import { again, page, showPage } from './page.js';
import { heldHashes } from './held.js';
import { notice, said } from './notice.js';

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
    const json = JSON.stringify(fields());
    saved('Saving');
    let xhr;
    try {
        xhr = await post(`/beats/${beat}/${action}`, json, head);
    } catch {
        saved('Not saved');
        notice('Pestle cannot be reached. Is it still running? Your last change is not saved.', {
            bad: true, actions: { 'Try again': () => enqueue(action, fields) },
        });

        return false;
    }
    if (xhr.status === 200) {
        // Another page may have been opened meanwhile: then that one is shown as it is now.
        if (location.href === from) {
            showPage(xhr.response);
        } else {
            await again();
        }

        return true;
    }
    const { error } = said(xhr);
    saved('Not saved');
    if (xhr.status === 409) {
        notice(error, {
            bad: true,
            actions: {
                'Do it on the newest': () => { chain = chain.then(() => send(beat, action, fields, 'newest')); },
                'See the newest': () => location.reload(),
            },
        });
    } else {
        notice(error, { bad: true });
        await again();
    }

    return false;
}

/** Sends JSON by htmx; fails when nobody answers. A server that is being started again is as good as none. */
function post(url, json, head) {
    return new Promise((resolve, reject) => {
        htmx.ajax('POST', url, {
            source: '#saved',
            values: { json },
            headers: { 'Content-Type': 'application/json', 'X-Pestle-Head': head, 'X-Pestle-Has': heldHashes() },
            handler: (_, { xhr }) => ([502, 503, 504].includes(xhr.status) ? reject(xhr) : resolve(xhr)),
        }).catch(reject);
    });
}

function saved(text) {
    const label = document.getElementById('saved');
    if (label) {
        label.textContent = text;
    }
}
