// What is carried out is packed by a worker first; what comes in is sent, then unpacked by one. Both are told in the quiet line.

import { failure } from './page.js';
import { notice } from './notice.js';
import { patiently } from './patient.js';
import { pause } from './pause.js';
import { ask, sendFile } from './uploads.js';

const ASK_AGAIN_MS = 300;

async function takeOut(href, packed, packing) {
    const answer = await patiently(href, () => notice(`Packing ${packed}${packing ? `: ${packing}` : ''} …`, { seconds: 60 }));
    if (answer.ok) {
        await answer.body.cancel();
        notice(`${packed[0].toUpperCase()}${packed.slice(1)} is packed.`);
        location.href = href;
    } else {
        notice((await failure(answer)).error, { bad: true });
    }
}

document.addEventListener('click', (event) => {
    const link = event.target.closest('[data-packed]');
    if (link) {
        event.preventDefault();
        const { packed, packing, library } = link.dataset;
        // The library is packed as it is now, each time it is asked for.
        takeOut(library === undefined ? link.href : `/library-${Math.floor(Date.now() / 1000)}.zip`, packed, packing);
    }
});

/**
 * Sends files that belong together, and waits for what comes of them; the quiet line says how far it is and can stop it while
 * they are sent.
 *
 * @param what  they are for, as uploads call it
 * @param begin takes the ids of their uploads; gives the upload that says what comes of them
 * @param came  shows what came in
 */
export async function bringIn(files, what, begin, came) {
    let wanted = true;
    const say = (text) => notice(`Bringing in ${files[0].name}: ${text}`, { actions: { Stop: () => { wanted = false; } }, seconds: 60 });
    const all = files.reduce((sum, file) => sum + file.size, 0);
    let sent = 0;
    try {
        const uploads = [];
        for (const file of files) {
            const id = await sendFile(file, (part) => { say(`${Math.round(100 * (sent + part * file.size) / all)} % sent`); return wanted; }, what);
            if (id === null) {
                await Promise.all(uploads.map((other) => ask(`/uploads/${other}`, { method: 'DELETE' })));
                notice('Given up; nothing came in.');

                return;
            }
            uploads.push(id);
            sent += file.size;
        }
        const id = await begin(uploads);
        document.dispatchEvent(new Event('pestle:work'));
        let state = await ask(`/uploads/${id}`);
        while (state.state === 'listening') {
            notice(`Bringing in ${files[0].name}: ${state.message || 'unpacking'} …`, { seconds: 60 });
            await pause(ASK_AGAIN_MS);
            state = await ask(`/uploads/${id}`);
        }
        if (state.state === 'done') {
            await came();
        }
        notice(state.message, state.state === 'done' ? { seconds: 15 } : { bad: true });
    } catch (problem) {
        notice(problem.message, { bad: true });
    }
}

export async function begun(url, body) {
    return (await ask(url, { method: 'POST', body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } })).id;
}

document.addEventListener('change', async ({ target }) => {
    if (target.matches('[data-carried-in]')) {
        const [file] = target.files;
        target.value = '';
        // The list of beats is no page of a beat: what is new in it is fetched.
        await bringIn([file], 'beats', ([upload]) => begun('/carried', { upload }), () => htmx.ajax('GET', '/', { target: '.list-page', select: '.list-page', swap: 'outerHTML' }));
    }
});
