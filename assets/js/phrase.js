// A recording as notes: what is heard is shown over the wave as it is taken, then made a pattern.

import { change } from './changes.js';
import { failure, goTo, onPage, page } from './page.js';
import { notice } from './notice.js';
import { patiently } from './patient.js';
import { pause } from './pause.js';

const SETTLE_MS = 150;
let asked = 0;
let made = null;

function panel() {
    return document.querySelector('[data-phrase]');
}

function say(text) {
    const line = document.querySelector('[data-phrase-said]');
    if (line) {
        line.textContent = text;
    }
}

/** Asks what is heard, with the settings as they are; only the last question counts. */
async function ask() {
    const place = panel();
    const mine = asked += 1;
    const wave = document.querySelector('pestle-wave');
    const fields = { section: place.dataset.section, scale: 0 };
    for (const control of place.querySelectorAll('[data-phrase-set]')) {
        fields[control.dataset.phraseSet] = control.type === 'checkbox' ? Number(control.checked) : control.value;
        if (control.type === 'range') {
            control.style.setProperty('--fill', `${control.value}%`);
            control.parentElement.querySelector('output').textContent = `${control.value} %`;
        }
    }
    await pause(SETTLE_MS);
    if (mine !== asked) {
        return;
    }
    const response = await patiently(`/beats/${page().beat}/phrase/${place.dataset.phrase}?${new URLSearchParams({ ...fields, edits: wave.dataset.edits })}`, () => say('Its notes are being looked for …'), () => mine === asked && panel() !== null);
    const answer = response.ok ? await response.json() : { error: (await failure(response)).error };
    if (mine !== asked || panel() === null) {
        return;
    }
    const button = document.querySelector('[data-phrase-make]');
    if (!response.ok) {
        say(answer.error);
        button.disabled = true;

        return;
    }
    made = answer.change;
    wave.showNotes(answer.notes);
    const hits = 'hits' in made.patterns[0];
    document.querySelector('[data-phrase-notes]').hidden = hits;
    say(hits ? `${answer.kept} hits, each on the pad of its kind.` : `${answer.kept} of ${answer.notes.length} notes are taken.`);
    button.disabled = answer.kept === 0;
}

for (const name of ['input', 'change']) {
    document.addEventListener(name, ({ target }) => {
        if (target.dataset?.phraseSet) {
            ask();
        }
    });
}

document.addEventListener('click', async (event) => {
    if (event.target.closest('[data-phrase-make]') && made) {
        const { part, name } = made.patterns[0];
        const then = new URL(panel().dataset.then, location.href);
        then.searchParams.set('part', part);
        if (await change(made)) {
            await goTo(then.pathname + then.search);
            notice(`${name} is a pattern now.`);
        }
    }
});

onPage(() => {
    made = null;
    asked += 1;
    if (panel()) {
        ask();
    } else {
        document.querySelector('pestle-wave')?.showNotes?.([]);
    }
});
