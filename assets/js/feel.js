// How patterns are felt: compared with what is written, grooves taken from elsewhere; lanes worked on as a whole.

import { change } from './changes.js';
import { notice } from './notice.js';
import { onPage, page } from './page.js';
import { player } from './audio/player.js';
import { ask } from './uploads.js';

const SIXTEENTH = 240;
let comparing = false;

/** Hears what is written in place of how it is felt, and back. */
export function compare() {
    const panel = document.querySelector('[data-feel]');
    if (!panel) {
        return;
    }
    comparing = !comparing;
    player.preview(comparing ? { type: 'set-feel', patterns: JSON.parse(panel.dataset.feel), on: 0 } : null);
    show();
    notice(comparing ? 'As it is written. B brings its feel back.' : 'As it is felt.', { seconds: 3 });
}

function show() {
    document.querySelector('[data-compare]')?.setAttribute('aria-pressed', String(comparing));
}

/** Takes a groove from what a recording plays, or what an option says already. */
async function takeGroove(select) {
    const { value, dataset } = select;
    if (value === '') {
        return;
    }
    select.value = '';
    if (value === 'midi') {
        document.querySelector('[data-groove-file]').click();

        return;
    }
    if (value.startsWith('{')) {
        if (await change(JSON.parse(value))) {
            notice('The groove is taken and laid on.');
        }

        return;
    }
    const [hash, query] = value.split('?');
    await layGroove(dataset.next, () => ask(`/beats/${page().beat}/groove/${hash}?${query ?? ''}`));
}

/** Lays what was played somewhere over the patterns that are felt. */
async function layGroove(id, of) {
    try {
        const patterns = JSON.parse(document.querySelector('[data-feel]').dataset.feel);
        const { name, ticks, played } = await of();
        if (await change({ type: 'add-groove', id, name, grid: SIXTEENTH, ticks, played, onto: patterns })) {
            notice(`The groove of ${name}, ${played.length} hits, is laid on.`);
        }
    } catch (problem) {
        notice(problem.message, { bad: true });
    }
}

document.addEventListener('click', async (event) => {
    const act = event.target.closest('[data-lane-do]');
    const keep = event.target.closest('[data-groove-keep]');
    if (event.target.closest('[data-compare]')) {
        compare();
    } else if (act) {
        const shape = JSON.parse(act.closest('[data-lane-tools]').dataset.laneTools);
        const step = Number(document.getElementById('lanes-step').value);
        change({ ...shape, how: act.dataset.laneDo, step, every: Number(document.getElementById('lane-every').value) || 1 });
    } else if (keep) {
        try {
            const { name } = await ask(`/beats/${page().beat}/grooves/${keep.dataset.grooveKeep}/keep`, { method: 'POST' });
            notice(`${name} is on the shelf, for any beat.`, { actions: { 'Take it off': () => ask('/grooves/take', { method: 'POST', body: JSON.stringify({ name }), headers: { 'Content-Type': 'application/json' } }) } });
        } catch (problem) {
            notice(problem.message, { bad: true });
        }
    }
});

document.addEventListener('change', ({ target }) => {
    if ('grooveFrom' in (target.dataset ?? {})) {
        takeGroove(target);
    } else if ('grooveFile' in (target.dataset ?? {}) && target.files.length > 0) {
        const [file] = target.files;
        layGroove(target.dataset.next, () => ask(`/beats/${page().beat}/groove/midi?name=${encodeURIComponent(file.name)}`, { method: 'POST', body: file, headers: { 'Content-Type': 'application/octet-stream' } }));
        target.value = '';
    } else if ('laneSound' in (target.dataset ?? {}) && target.value !== '') {
        change(JSON.parse(target.value));
    } else if ('laneSteps' in (target.dataset ?? {})) {
        const { pattern, lane } = JSON.parse(target.closest('[data-lane-tools]').dataset.laneTools);
        change({ type: 'set-lane', pattern, lane, ticks: Number(target.value) * SIXTEENTH });
    }
});

onPage(() => {
    // A change ends the comparison: what was set is to be heard.
    comparing = false;
    show();
});
