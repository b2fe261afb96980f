// Who covers whom in the section, as PHP worked it out, and what could be done about it.

import { change } from './changes.js';
import { onPage, page } from './page.js';
import { notice } from './notice.js';
import { askMeasured } from './patient.js';

let found = null;

const hz = (value) => value >= 1000 ? `${(value / 1000).toFixed(1)} kHz` : `${Math.round(value)} Hz`;

function button(label, what) {
    const element = document.createElement('button');
    element.type = 'button';
    element.className = 'btn slim';
    element.textContent = label;
    element.addEventListener('click', () => change(what));

    return element;
}

function sentence({ line, by, share, from, to, hz: middle }, names) {
    const row = document.createElement('p');
    row.className = 'bar small';
    const [covered, masker] = [names[line]?.name ?? line, names[by]?.name ?? by];
    row.append(
        `${masker} covers ${Math.round(100 * share)} % of ${covered}, most of it ${from === to ? `at ${hz(from)}` : `from ${hz(from)} to ${hz(to)}`}.`,
        button(`${masker} steps back under ${covered}`, { type: 'make-room', node: by, for: line }),
        button(`${masker} −4 dB at ${hz(middle)}`, { type: 'make-room', node: by, for: line, hz: middle }),
    );

    return row;
}

function show() {
    const place = document.querySelector('[data-covered]');
    if (!place || !found || found.beat !== page().beat) {
        return;
    }
    const names = JSON.parse(place.dataset.lines);
    const title = document.createElement('p');
    title.className = 'small';
    title.textContent = `${found.what}${found.head === page().head ? '' : ', as it was before the last change: look again'}`;
    const rows = found.covered.length > 0 ? found.covered.map((pair) => sentence(pair, names)) : [document.createElement('p')];
    if (found.covered.length === 0) {
        rows[0].className = 'small';
        rows[0].textContent = 'No channel covers much of another: each has room of its own.';
    }
    place.replaceChildren(title, ...rows);
}

document.addEventListener('click', async (event) => {
    const asks = event.target.closest('[data-masking]');
    if (!asks) {
        return;
    }
    const now = page();
    asks.disabled = true;
    try {
        const { problem, answer } = await askMeasured(`/beats/${now.beat}/spectrum?what=${asks.dataset.masking}`);
        if (problem) {
            notice(problem, { bad: true });
        } else {
            const { covered } = answer;
            found = covered ? { covered, beat: now.beat, head: now.head, what: `${asks.dataset.name}, channels behind their faders` } : null;
            show();
        }
    } finally {
        asks.disabled = false;
    }
});
onPage(show);
