// The columns beside the wave in Chop: slicing at hits, in equal parts, on the beat grid; edits.

import { patiently } from './patient.js';
import { change } from './changes.js';
import { make } from './gather.js';
import { failure, goTo } from './page.js';
import { notice } from './notice.js';

const MOST = 128;

document.addEventListener('input', (event) => {
    if (event.target.id === 'sensitivity' || event.target.id === 'shortest') {
        document.getElementById(`${event.target.id}-value`).textContent = event.target.value;
    }
});

function wave() {
    return document.querySelector('pestle-wave');
}

/** Address of something about the recording with its edits. */
function about(sample, what, parameters) {
    return `/samples/${sample}/${what}?${new URLSearchParams({ ...parameters, edits: wave().dataset.edits })}`;
}

async function sliceAtHits(sample) {
    const sensitivity = document.getElementById('sensitivity').value;
    const shortest = document.getElementById('shortest').value;
    const response = await patiently(about(sample, 'hits', { sensitivity, shortest }));
    if (!response.ok) {
        notice((await failure(response)).error, { bad: true });

        return;
    }
    const { hits } = await response.json();
    if (hits.length === 0) {
        notice('No hits found. Raise the sensitivity, or slice in equal parts.', { bad: true });
    } else {
        await change({ type: 'set-slices', sample, markers: hits.slice(0, MOST), how: 'hits' });
        notice(`${Math.min(MOST, hits.length)} slices at hits.`);
    }
}

document.addEventListener('click', (event) => {
    const slicer = event.target.closest('[data-slicer]');
    if (event.target.closest('[data-slice-hits]')) {
        sliceAtHits(slicer.dataset.slicer);
    } else if (event.target.closest('[data-slice-equal]')) {
        sliceEvenly(slicer.dataset.slicer, { parts: document.getElementById('parts').value });
    } else if (event.target.closest('[data-slice-grid]')) {
        sliceEvenly(slicer.dataset.slicer, { division: document.getElementById('division').value });
    }
});

/** In equal parts, or at a division of the beat grid. */
async function sliceEvenly(sample, parameters) {
    const response = await patiently(about(sample, 'cuts', parameters));
    const answer = await failure(response);
    if (response.ok) {
        await change({ type: 'set-slices', sample, ...answer });
    } else {
        notice(answer.error, { bad: true });
    }
}

/** The settings typed beside an edit's button, and those that hold for all. */
function settingsOf(button) {
    const fields = {};
    for (const field of button.closest('.edit-tools').querySelectorAll('input, select')) {
        const near = field.closest('.edit-row') === button.closest('.edit-row') || field.name === 'material' || (button.dataset.edit === 'converter' && ['bits', 'kilohertz'].includes(field.name));
        if (near && field.name && field.value !== '') {
            fields[field.name] = field.type === 'checkbox' ? Number(field.checked) : field.value;
        }
    }
    if ('semitones' in fields) {
        fields.cents = Math.round(Number(fields.semitones) * 100);
    }
    if ('mix' in fields) {
        fields.tail = Math.round(Number(fields.seconds) * Number(wave().dataset.rate));
    }
    if ('kilohertz' in fields) {
        fields.rate = Math.round(Number(fields.kilohertz) * 1000);
    }

    return fields;
}

/** Adds an edit to the list, for the selection or for all. */
async function edit(kind, settings, selection) {
    if (wave().before) {
        notice('This is the recording before its edits. Switch Before off (B) to go on editing.', { bad: true });

        return;
    }
    const range = selection ? { from: selection[0], to: selection[1] } : {};
    const editor = () => JSON.parse(document.querySelector('[data-editor]')?.dataset.editor ?? 'null');
    const asked = editor();
    await change(() => {
        const now = editor();
        const { edits, ...rest } = now?.sample === asked.sample ? now : asked;

        return { ...rest, edits: [...edits, { kind, ...settings, ...range }] };
    });
}

/** Slices go to pads as the column beside the wave says. */
async function toPads(button) {
    const fields = JSON.parse(button.dataset.toPads);
    const chosen = (id) => document.getElementById(id);
    const replay = chosen('pads-replay')?.checked ?? true;
    if (chosen('pads-bank')?.value) {
        fields.bank = chosen('pads-bank').value;
    }
    if (chosen('pads-pitch')?.checked) {
        const answer = await (await patiently(about(fields.sample, 'pitches', { at: JSON.parse(wave().dataset.markers).join(',') }))).json();
        fields.order = answer.order;
    }
    const [pattern, kit] = [button.dataset.then, button.dataset.kit];
    if (await change({ ...fields, replay: Number(replay) })) {
        await goTo(replay ? pattern : kit);
    }
}

document.addEventListener('click', (event) => {
    const button = event.target.closest('[data-to-pads]');
    if (button && !button.disabled) {
        toPads(button);
    }
    if (event.target.closest('[data-lift]')) {
        const [from, to] = wave().selection ?? [0, Number(wave().before ? wave().dataset.sourceFrames : wave().dataset.frames)];
        make('lifted', { sample: wave().dataset.sample, edits: (!wave().before && wave().dataset.edits) || '[]', from, to });
    }
});

document.addEventListener('click', async (event) => {
    const button = event.target.closest('[data-edit], [data-edit-trim]');
    if (!button || button.disabled) {
        return;
    }
    if ('editTrim' in button.dataset) {
        const response = await patiently(about(wave().dataset.sample, 'sounding', {}));
        const { from, to } = await response.json();
        if (from === 0 && to === Number(wave().dataset.frames)) {
            notice('There is no silence at its ends.');
        } else {
            await edit('keep', {}, [from, to]);
        }
    } else {
        const { semitones, kilohertz, ...settings } = settingsOf(button);
        await edit(button.dataset.edit, settings, wave().selection);
    }
});

document.addEventListener('change', (event) => {
    if (event.target.id === 'sensitivity' || event.target.id === 'shortest') {
        sliceAtHits(event.target.closest('[data-slicer]').dataset.slicer);
    }
});
