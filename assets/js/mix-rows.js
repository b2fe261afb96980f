// Which lines of the mixer are shown: by name, only what sounds, groups folded. A way of looking, so it is kept here and not in the beat.

import { onPage, page } from './page.js';
import { player } from './audio/player.js';

const folded = new Set();
let name = '';
let sounding = false;

function isSilent(row) {
    const peaks = player.loop?.meters?.channels[row.dataset.channel];

    return peaks !== undefined && !peaks.some((peak) => peak > 0);
}

function show() {
    if (page()?.workspace !== 'mix') {
        return;
    }
    const rows = [...document.querySelectorAll('.channel')];
    const wanted = name.trim().toLowerCase();
    let hidden = 0;
    for (const row of rows) {
        const off = !row.querySelector('.name').textContent.toLowerCase().includes(wanted)
            || (sounding && row.dataset.channel !== 'master' && isSilent(row))
            || (wanted === '' && folded.has(row.dataset.output));
        row.hidden = off;
        hidden += off ? 1 : 0;
        if (row.nextElementSibling?.classList.contains('route')) {
            row.nextElementSibling.hidden = off;
        }
    }
    for (const button of document.querySelectorAll('[data-fold-group]')) {
        const open = !folded.has(button.dataset.foldGroup);
        button.setAttribute('aria-expanded', String(open));
        button.textContent = open ? '−' : '+';
    }
    const field = document.querySelector('[data-mix-search]');
    if (field) {
        field.value = name;
        document.querySelector('[data-mix-sounding]').setAttribute('aria-pressed', String(sounding));
        document.querySelector('[data-mix-hidden]').textContent = hidden === 0 ? '' : hidden === rows.length ? 'No line is called so.' : `${hidden} not shown`;
    }
}

document.addEventListener('input', (event) => {
    if (event.target.matches('[data-mix-search]')) {
        name = event.target.value;
        show();
    }
});
document.addEventListener('keydown', (event) => {
    if (event.key === 'Escape' && event.target.matches('[data-mix-search]')) {
        name = '';
        show();
    }
});
document.addEventListener('click', (event) => {
    const group = event.target.closest('[data-fold-group]')?.dataset.foldGroup;
    if (group) {
        folded.has(group) ? folded.delete(group) : folded.add(group);
        show();
    } else if (event.target.closest('[data-mix-sounding]')) {
        sounding = !sounding;
        show();
        if (sounding && !player.loop?.meters) {
            // What sounds is known with the loop: it was not asked for yet.
            player.refresh();
        }
    }
});
player.addEventListener('loop', show);
onPage(show);
