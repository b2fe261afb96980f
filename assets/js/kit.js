// Kit: several pads are chosen to be set together, and pads and instruments join what sounds along.

import { begun, bringIn } from './carried.js';
import { change } from './changes.js';
import { again, app, failure, goTo, onPage, page } from './page.js';
import { notice } from './notice.js';
import { player } from './audio/player.js';

document.addEventListener('change', (event) => {
    const { addTo, field, loadOne } = event.target.dataset ?? {};
    if (loadOne && event.target.value) {
        change({ ...JSON.parse(loadOne), only: [event.target.value] });
        event.target.value = '';
    }
    if (addTo && event.target.value) {
        const fields = JSON.parse(addTo);
        change({ ...fields, [field]: [...fields[field], event.target.value] });
    }
});

document.addEventListener('click', (event) => {
    const pick = event.target.closest('[data-pick], .pad[data-pad]');
    const id = pick?.dataset.pick ?? pick?.dataset.pad;
    if (!id || page()?.workspace !== 'kit' || !(event.ctrlKey || event.metaKey)) {
        return;
    }
    event.preventDefault();
    event.stopPropagation();
    const url = new URL(location.href);
    const picked = (url.searchParams.get('pads') ?? '').split(',').filter((one) => one !== '');
    url.searchParams.set('pads', (picked.includes(id) ? picked.filter((one) => one !== id) : [...picked, id]).join(','));
    goTo(url.pathname + url.search);
}, true);

// Pads change places by drag: onto a free place it moves, onto a filled one they swap, with Alt it is copied. By keyboard they are
// copied, cut and pasted.
let carried = null;
let kept = null;

function placeOf(element) {
    const place = element?.closest?.('[data-place], .pad[data-pad], .pad[data-free]');

    return place?.dataset.place ?? place?.dataset.pad ?? place?.dataset.free ?? null;
}

function land(from, to, copies) {
    if (from !== to) {
        change(copies ? { type: 'copy-pad', pad: from, to } : { type: 'swap-pads', pad: from, with: to });
    }
}

document.addEventListener('dragstart', (event) => {
    const row = event.target.closest?.('[data-pick]');
    if (row) {
        carried = row.dataset.pick;
        event.dataTransfer.setData('text/plain', row.textContent.trim());
        event.dataTransfer.effectAllowed = 'copyMove';
    }
});
document.addEventListener('dragover', (event) => {
    if (carried && placeOf(event.target)) {
        event.preventDefault();
    }
});
document.addEventListener('drop', (event) => {
    const place = placeOf(event.target);
    if (carried && place) {
        event.preventDefault();
        event.stopPropagation();
        land(carried, place, event.altKey);
    }
    carried = null;
}, true);
document.addEventListener('dragend', () => { carried = null; });

document.addEventListener('keydown', (event) => {
    const row = event.target.closest?.('[data-place]');
    if (!row) {
        return;
    }
    const place = row.dataset.place;
    const rows = [...document.querySelectorAll('[data-place]')];
    const step = { ArrowUp: -1, ArrowDown: 1 }[event.key];
    const key = event.key.toLowerCase();
    if (step) {
        event.preventDefault();
        const next = rows[rows.indexOf(row) + step];
        if (next && event.altKey && row.dataset.pick) {
            land(place, next.dataset.place, false);
        }
        next?.focus();
    } else if ((event.ctrlKey || event.metaKey) && (key === 'c' || key === 'x') && row.dataset.pick) {
        event.preventDefault();
        kept = { pad: place, copies: key === 'c' };
    } else if ((event.ctrlKey || event.metaKey) && key === 'v' && kept) {
        event.preventDefault();
        land(kept.pad, place, kept.copies);
        kept = kept.copies ? kept : null;
    } else if ((event.key === 'Delete' || event.key === 'Backspace') && row.dataset.pick) {
        event.preventDefault();
        change({ type: 'clear-pad', pad: place });
    }
});

// The shelf: kits are saved, found, heard under what plays, brought in and taken off.
async function post(url, body) {
    const response = await fetch(url, {
        method: 'POST',
        headers: { 'X-Pestle-Token': app().dataset.token, 'X-Pestle-Head': String(page().head), 'Content-Type': 'application/json' },
        body: JSON.stringify(body),
    });
    if (!response.ok) {
        notice((await failure(response)).error, { bad: true });

        return null;
    }

    return response.json();
}

document.addEventListener('submit', async (event) => {
    const part = event.target.dataset?.shelfSave;
    if (part) {
        event.preventDefault();
        event.stopPropagation();
        const fields = Object.fromEntries(new FormData(event.target, event.submitter));
        if (await post(`/beats/${page().beat}/shelf`, { ...fields, part })) {
            await again();
            notice(`${fields.name} is on the shelf.`);
        }
    }
}, true);

document.addEventListener('change', async (event) => {
    if (event.target.matches('[data-shelf-in]')) {
        const files = [...event.target.files];
        event.target.value = '';
        await bringIn(files, 'kit', (uploads) => begun('/kits', { uploads }), again);
    }
});

let heard = null;

document.addEventListener('click', async (event) => {
    const hear = event.target.closest('[data-hear-kit]');
    const off = event.target.closest('[data-shelf-delete]');
    if (hear) {
        const on = heard !== hear.dataset.hearKit;
        heard = on ? hear.dataset.hearKit : null;
        player.preview(on ? JSON.parse(heard) : null);
        if (on && !player.playing) {
            player.play();
        }
        showHeard();
    } else if (off) {
        const id = off.dataset.shelfDelete;
        const answer = await post(`/kits/${id}/delete`, {});
        if (answer) {
            await again();
            notice(`${answer.name} is off the shelf.`, { actions: { 'Put it back': async () => { await post(`/kits/${id}/restore`, {}); again(); } } });
        }
    } else if (heard && event.target.closest('[hx-post]')) {
        heard = null;
        player.endPreview();
    }
});

function showHeard() {
    for (const button of document.querySelectorAll('[data-hear-kit]')) {
        button.setAttribute('aria-pressed', String(button.dataset.hearKit === heard));
    }
}
onPage(() => {
    if (heard && !document.querySelector('[data-hear-kit]')) {
        heard = null;
        player.preview(null);
    }
    showHeard();
});
