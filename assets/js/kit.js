// Kit: several pads are chosen to be set together, and pads and instruments join what sounds along.

import { change } from './changes.js';
import { goTo, page } from './page.js';

document.addEventListener('change', (event) => {
    const { addTo, field } = event.target.dataset ?? {};
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
