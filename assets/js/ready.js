// Patterns that come from elsewhere: drum patterns to begin with, heard under what plays before one is laid on, and MIDI files.

import { change } from './changes.js';
import { notice } from './notice.js';
import { onPage, page } from './page.js';
import { player } from './audio/player.js';
import { ask } from './uploads.js';

let heard = null;

function lay(fields) {
    return { ...JSON.parse(fields), id: page().nextPattern };
}

function show() {
    for (const button of document.querySelectorAll('[data-ready]')) {
        button.setAttribute('aria-pressed', String(button.dataset.ready === heard));
    }
}

document.addEventListener('click', async (event) => {
    const ready = event.target.closest('[data-ready]');
    const on = event.target.closest('[data-lay]');
    if (ready) {
        heard = heard === ready.dataset.ready ? null : ready.dataset.ready;
        player.preview(heard ? lay(heard) : null);
        if (heard && !player.playing) {
            player.play();
        }
        show();
    } else if (on) {
        const name = on.closest('.ready').querySelector('.truncate').textContent;
        heard = null;
        if (await change(lay(on.closest('.ready').querySelector('[data-ready]').dataset.ready))) {
            notice(`${name} is laid on, as a pattern of its own.`);
        }
    }
});

/** Brings a MIDI file in: what could not be carried is told, and its tempo is offered. */
export async function takeMidi(file) {
    const read = (tempo) => ask(`/beats/${page().beat}/midi?name=${encodeURIComponent(file.name)}${tempo ? '&tempo=1' : ''}`, { method: 'POST', body: file, headers: { 'Content-Type': 'application/octet-stream' } });
    try {
        const { change: fields, told } = await read(true);
        const { bpm, meter, ...without } = fields;
        if (await change(without)) {
            const words = `${file.name} is in a section of its own: ${fields.patterns.map((p) => p.name).join(', ')}.${told.length > 0 ? ` Not carried: ${told.join('; ')}.` : ''}`;
            const same = Math.abs(bpm - page().bpm) < 0.01;
            notice(words, { seconds: 20, actions: same ? {} : { [`Set the beat to ${bpm} BPM`]: () => change({ type: 'set-tempo', bpm }) } });
        }
    } catch (problem) {
        notice(problem.message, { bad: true });
    }
}

document.addEventListener('change', ({ target }) => {
    if ('midiIn' in (target.dataset ?? {})) {
        const [file] = target.files;
        target.value = '';
        takeMidi(file);
    }
});

onPage(() => {
    heard = null;
    show();
});
