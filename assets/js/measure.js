// How loud the section or the song is, as PHP measured it, and what could be done about it.

import { change } from './changes.js';
import { loudnessOf } from './loudness.js';
import { onPage, page } from './page.js';

let measured = null;
let target = -14;

const db = (value, places = 1) => value.toFixed(places).replace('-', '−');

/** What could be done, as PHP says: for this measure, this target, and the beat as it is now. */
async function advise() {
    const wanted = `${page()?.head} ${target}`;
    if (!measured || measured.beat !== page()?.beat || measured.advised === wanted) {
        return;
    }
    measured.advised = wanted;
    const { integratedLufs, truePeakDb, limiterDb, correlation, peaksDb } = measured.answer;
    const query = new URLSearchParams({ target, integratedLufs, truePeakDb, limiterDb, correlation, peaksDb: JSON.stringify(peaksDb) });
    const now = measured;
    const response = await fetch(`/beats/${measured.beat}/advice?${query}`, { headers: { Accept: 'application/json' } });
    if (response.ok && measured === now) {
        now.advice = (await response.json()).advice;
        show();
    }
}

function show() {
    const place = document.querySelector('[data-measured]');
    if (!place) {
        return;
    }
    document.querySelector('[data-loudness-target]').value = target;
    if (!measured || measured.beat !== page().beat) {
        return;
    }
    const now = measured.answer;
    const names = JSON.parse(place.dataset.lines);
    const table = document.createElement('dl');
    table.className = 'measured';
    const peaks = Object.entries(now.peaksDb).filter(([id]) => names[id]).sort((a, b) => b[1] - a[1]).slice(0, 6).map(([id, peak]) => `${names[id].name} ${db(peak)}`).join(', ');
    for (const [name, value] of [
        ['Loudness', `${db(now.integratedLufs)} LUFS`], ['Loudest 3 s', `${db(now.shortTermLufs)} LUFS`], ['Loudest 0.4 s', `${db(now.momentaryLufs)} LUFS`],
        ['Range', `${db(now.rangeLu)} LU`], ['True peak', `${db(now.truePeakDb)} dB`], ['Limiter', `${db(now.limiterDb)} dB`], ['Left with right', db(now.correlation, 2)], ['Peaks in dBFS', peaks],
    ]) {
        const pair = document.createElement('div');
        const term = document.createElement('dt');
        term.textContent = name;
        const fact = document.createElement('dd');
        fact.textContent = value;
        pair.append(term, fact);
        table.append(pair);
    }
    const lines = (measured.advice ?? []).map(({ words, does, change: what }) => {
        const line = document.createElement('p');
        line.className = 'bar small';
        line.append(words);
        if (does) {
            const button = document.createElement('button');
            button.type = 'button';
            button.className = 'btn slim';
            button.textContent = does;
            button.addEventListener('click', () => change(what));
            line.append(button);
        }

        return line;
    });
    const title = document.createElement('p');
    title.className = 'small';
    title.textContent = `${measured.what}${measured.head === page().head ? '' : ', as it was before the last change: measure again'}`;
    place.replaceChildren(title, table, ...lines);
    advise();
}

async function measure(button) {
    button.disabled = true;
    const now = page();
    const before = button.textContent;
    button.textContent = 'Measuring …';
    try {
        const answer = await loudnessOf(button.dataset.measure, '', (done) => { button.textContent = `Measuring: ${Math.round(100 * done)} %`; });
        measured = answer === null ? null : { answer, beat: now.beat, head: now.head, what: button.dataset.measure === '' ? 'The song' : `${button.dataset.name}, once through` };
    } finally {
        button.disabled = false;
        button.textContent = before;
        show();
    }
}

document.addEventListener('click', (event) => {
    const button = event.target.closest('[data-measure]');
    if (button) {
        measure(button);
    }
});
document.addEventListener('change', (event) => {
    if (event.target.matches('[data-loudness-target]')) {
        target = Math.max(-40, Math.min(-4, Number(event.target.value) || target));
        show();
    }
});
onPage(show);
