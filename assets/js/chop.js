// The slicing column of Chop: at hits, in equal parts.

import { change } from './changes.js';
import { failure } from './page.js';
import { notice } from './notice.js';

const MOST = 128;

document.addEventListener('input', (event) => {
    if (event.target.id === 'sensitivity' || event.target.id === 'shortest') {
        document.getElementById(`${event.target.id}-value`).textContent = event.target.value;
    }
});

async function sliceAtHits(sample) {
    const sensitivity = document.getElementById('sensitivity').value;
    const shortest = document.getElementById('shortest').value;
    const response = await fetch(`/samples/${sample}/hits?sensitivity=${sensitivity}&shortest=${shortest}`);
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
        const parts = Math.max(1, Math.min(MOST, Number(document.getElementById('parts').value)));
        const markers = Array.from({ length: parts }, (_, i) => Math.floor(i * Number(slicer.dataset.frames) / parts));
        change({ type: 'set-slices', sample: slicer.dataset.slicer, markers, how: 'equal' });
    }
});

document.addEventListener('change', (event) => {
    if (event.target.id === 'sensitivity' || event.target.id === 'shortest') {
        sliceAtHits(event.target.closest('[data-slicer]').dataset.slicer);
    }
});
