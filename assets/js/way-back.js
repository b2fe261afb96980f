// One way back for everything: what is said of samples and grids is no revision of the beat, so this remembers such steps
// with the state of the beat they were made in; undo takes back whichever was made last, by name.

import { redo as redoChange, undo as undoChange } from './changes.js';
import { correct } from './library.js';
import { onPage, page } from './page.js';
import { notice } from './notice.js';

const MOST = 50;

function read(name) {
    return JSON.parse(sessionStorage.getItem(`pestle-${name}-${page().beat}`) ?? '[]');
}

function write(name, steps) {
    sessionStorage.setItem(`pestle-${name}-${page().beat}`, JSON.stringify(steps.slice(-MOST)));
}

/** Where among all steps the last one is that was made in the state the beat is in now; -1 when there is none. */
function lastPlace(steps) {
    return steps.findLastIndex((step) => step.place === page().place);
}

function last(name) {
    const steps = page() ? read(name) : [];

    return steps[lastPlace(steps)] ?? null;
}

// A correction was made: the sample, what it was in words, and what was there before.
document.addEventListener('pestle:corrected', ({ detail: { sample, label, before } }) => {
    if (page()) {
        write('undo', [...read('undo'), { sample, label: label.replace(/\.$/, ''), facts: before, place: page().place }]);
        write('redo', []);
        show();
    }
});

async function take(from, to, words) {
    const steps = read(from);
    const [step] = steps.splice(lastPlace(steps), 1);
    write(from, steps);
    const answer = await correct(step.sample, step.facts);
    if (answer) {
        write(to, [...read(to), { ...step, facts: answer.before }]);
        notice(`${words}: ${step.label}.`);
    }
    show();
}

export function undo() {
    return last('undo') ? take('undo', 'redo', 'Taken back') : undoChange();
}

export function redo() {
    return last('redo') ? take('redo', 'undo', 'Done again') : redoChange();
}

/** The buttons tell what they would do. */
function show() {
    const [back, on] = [last('undo'), last('redo')];
    const undoButton = document.querySelector('[data-undo]');
    const redoButton = document.querySelector('[data-redo]');
    if (back && undoButton) {
        undoButton.disabled = false;
        undoButton.title = `Undo: ${back.label}`;
        undoButton.querySelector('.truncate').textContent = back.label;
    }
    if (on && redoButton) {
        redoButton.disabled = false;
        redoButton.title = `Redo: ${on.label}`;
        redoButton.setAttribute('aria-label', `Redo ${on.label}`);
    }
}
onPage(show);
