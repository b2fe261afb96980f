// How loud the section or the song is, as PHP measured it, and what could be done about it.

import { change } from './changes.js';
import { loudnessOf } from './loudness.js';
import { onPage, page } from './page.js';

/** Where the loudest line should peak before the master, in dBFS, and how far off is near enough. */
const STAGE_DB = -10;
const NEAR_DB = 2;
/** A lossy copy swings a little higher than what it was made of. */
const LOSSY_DB = -1;
const SILENT_LUFS = -69;

let measured = null;
let target = -14;

const db = (value, places = 1) => value.toFixed(places).replace('-', '−');
const signed = (value) => `${value < 0 ? '−' : '+'}${Math.abs(value).toFixed(1)}`;

/** Sentences, each with a button where something can be done. */
function advice(now, names) {
    const said = [];
    if (now.integratedLufs < SILENT_LUFS) {
        return [['Nothing sounds here.']];
    }
    const [loudest, peak] = Object.entries(now.peaksDb).filter(([id]) => names[id]?.kind === 'channel').sort((a, b) => b[1] - a[1])[0] ?? [null, STAGE_DB];
    const by = Math.round((STAGE_DB - peak) * 10) / 10;
    if (loudest && Math.abs(by) > NEAR_DB) {
        said.push([`Before the master ${names[loudest].name} peaks highest, at ${db(peak)} dBFS; near ${db(STAGE_DB, 0)} leaves everything behind it room.`, `All channels ${signed(by)} dB, master ${signed(-by)} dB`, { type: 'stage-gains', byDb: by }]);
    }
    const louder = Math.round((target - now.integratedLufs) * 10) / 10;
    if (Math.abs(louder) >= 0.5) {
        const limited = louder > 0 && now.limiterDb - louder < -6;
        said.push([`It is ${db(Math.abs(louder))} LU ${louder > 0 ? 'softer' : 'louder'} than aimed for${limited ? '; lifted that far the limiter would have much to do: make the loudest sounds softer first' : ''}.`, `Master ${signed(louder)} dB`, { type: 'set', 'mixer/master/gainDb': Math.round((Number(document.querySelector('.channel.master input.value').value) + louder) * 10) / 10 }]);
    }
    if (now.truePeakDb > LOSSY_DB + 0.05) {
        said.push([`True peaks reach ${db(now.truePeakDb)} dB: a lossy copy may clip.`, `Ceiling at ${db(LOSSY_DB, 0)} dB`, { type: 'set', 'mixer/master/ceilingDb': LOSSY_DB }]);
    }
    if (now.correlation < 0.2) {
        said.push([`Left and right have little in common (${db(now.correlation, 2)}): played in mono much of it is lost. Stereo inserts can keep the lows in the middle.`]);
    }

    return said.length > 0 ? said : [['Nothing to do: level, peaks and sides are as they should be.']];
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
    const lines = advice(now, names).map(([sentence, label, what]) => {
        const line = document.createElement('p');
        line.className = 'bar small';
        line.append(sentence);
        if (label) {
            const button = document.createElement('button');
            button.type = 'button';
            button.className = 'btn slim';
            button.textContent = label;
            button.addEventListener('click', () => change(what));
            line.append(button);
        }

        return line;
    });
    const title = document.createElement('p');
    title.className = 'small';
    title.textContent = `${measured.what}${measured.head === page().head ? '' : ', as it was before the last change: measure again'}`;
    place.replaceChildren(title, table, ...lines);
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
