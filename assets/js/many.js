// Many sounds of the library at once: ticked one by one, in a row with Shift, or all that are found; then tagged, marked, put
// onto pads or taken out, each as one step that can be taken back.

import { land } from './gather.js';
import { correct, post } from './library.js';
import { onPage, page } from './page.js';
import { notice } from './notice.js';

/** As many as the kit takes at once. */
const MOST_PADS = 128;
const chosen = new Set();
/** The row that was ticked last, from which Shift goes on. */
let last = null;

const rows = () => [...document.querySelectorAll('#samples tr[data-sample]')];
const sounds = (count) => `${count} ${count === 1 ? 'sound' : 'sounds'}`;

function show() {
    const bar = document.getElementById('many');
    if (!bar) {
        chosen.clear();

        return;
    }
    bar.hidden = chosen.size === 0;
    bar.querySelector('output').textContent = `${chosen.size} chosen`;
    const count = Number(document.getElementById('samples').dataset.count);
    const all = bar.querySelector('[data-many=all]');
    all.hidden = chosen.size >= count;
    all.textContent = `All ${count} found`;
    for (const row of rows()) {
        row.querySelector('[data-tick]').checked = chosen.has(row.dataset.sample);
    }
    const shown = rows();
    const ticked = shown.filter((row) => chosen.has(row.dataset.sample)).length;
    Object.assign(document.querySelector('[data-tick-all]'), { checked: ticked > 0 && ticked === shown.length, indeterminate: ticked > 0 && ticked < shown.length });
}

/** Chooses or lets go a row; with Shift all from the one before to it. */
function tick(row, on, through) {
    const all = rows();
    const from = through && last !== null ? all.findIndex((one) => one.dataset.sample === last) : -1;
    const at = all.indexOf(row);
    for (const one of from < 0 ? [row] : all.slice(Math.min(from, at), Math.max(from, at) + 1)) {
        on ? chosen.add(one.dataset.sample) : chosen.delete(one.dataset.sample);
    }
    last = row.dataset.sample;
    show();
}

async function chooseFound() {
    const answer = await post('/library/found', Object.fromEntries(new URLSearchParams(location.search)));
    if (answer) {
        chosen.clear();
        answer.found.forEach((hash) => chosen.add(hash));
        show();
        if (answer.found.length === answer.most && Number(document.getElementById('samples').dataset.count) > answer.most) {
            notice(`The first ${answer.most} are chosen: more are not taken at once.`);
        }
    }
}

/** Says one thing of all that are chosen; gives how many it changed and how many stay as they are in use. */
async function say(facts, label) {
    const answer = await correct('many', { samples: [...chosen], ...facts });
    if (!answer) {
        return null;
    }
    const changed = Object.keys(answer.before.said).length;
    if (changed > 0) {
        document.dispatchEvent(new CustomEvent('pestle:corrected', { detail: { sample: 'many', label: `${label} (${sounds(changed)})`, before: answer.before } }));
    }

    return { changed, stay: answer.stay };
}

const undo = { Undo: () => document.querySelector('[data-undo]')?.click() };

async function tag(what) {
    const field = document.getElementById('many-tag');
    const name = field.value.trim().toLowerCase();
    if (name === '') {
        field.focus();
        notice('Type the tag first.', { bad: true });

        return;
    }
    const done = await say({ [what]: name }, what === 'add' ? `Tag ${name}` : `Tag ${name} off`);
    if (done) {
        notice(what === 'add' ? `${sounds(done.changed)} more ${done.changed === 1 ? 'is' : 'are'} tagged ${name}.` : `${sounds(done.changed)} ${done.changed === 1 ? 'is' : 'are'} tagged ${name} no more.`, { actions: done.changed > 0 ? undo : {} });
    }
}

async function takeOut() {
    const done = await say({ gone: true }, 'Take out');
    if (done) {
        chosen.clear();
        show();
        const stay = done.stay > 0 ? ` ${sounds(done.stay)} ${done.stay === 1 ? 'stays' : 'stay'}: beats or kits use ${done.stay === 1 ? 'it' : 'them'}.` : '';
        notice(`${sounds(done.changed)} ${done.changed === 1 ? 'is' : 'are'} out of the library.${stay}`, { actions: done.changed > 0 ? undo : {} });
    }
}

async function putOnPads() {
    const pad = document.querySelector('.pad[data-free]')?.dataset.free;
    if (!pad || chosen.size > MOST_PADS) {
        notice(pad ? `${chosen.size} sounds are chosen; at most ${MOST_PADS} go onto pads at once.` : 'This bank is full: open another at the end of the dock.', { bad: true });

        return;
    }
    const answer = await post('/library/facts', { samples: [...chosen] });
    if (answer) {
        await land(pad, answer.facts, 'free');
    }
}

const DO = {
    all: chooseFound,
    none: () => { chosen.clear(); show(); },
    add: () => tag('add'),
    take: () => tag('take'),
    favourite: async () => {
        const done = await say({ favourite: true }, 'Favourites');
        if (done) {
            notice(`${sounds(done.changed)} more ${done.changed === 1 ? 'is a favourite' : 'are favourites'}.`, { actions: done.changed > 0 ? undo : {} });
        }
    },
    pads: putOnPads,
    gone: takeOut,
};

document.addEventListener('click', (event) => {
    const { target } = event;
    if (target.matches?.('[data-tick]')) {
        tick(target.closest('tr'), target.checked, event.shiftKey);
    } else if (target.matches?.('[data-tick-all]')) {
        rows().forEach((row) => (target.checked ? chosen.add(row.dataset.sample) : chosen.delete(row.dataset.sample)));
        show();
    } else if (target.closest?.('[data-many]')) {
        DO[target.closest('[data-many]').dataset.many]();
    }
});
document.addEventListener('keydown', (event) => {
    if (page()?.workspace !== 'gather') {
        return;
    }
    if (event.target.id === 'many-tag' && event.key === 'Enter') {
        event.preventDefault();
        tag('add');
    } else if (event.key.toLowerCase() === 'a' && (event.ctrlKey || event.metaKey) && event.target.closest('#samples')) {
        event.preventDefault();
        chooseFound();
    } else if (event.key === 'Escape' && chosen.size > 0 && event.target.closest('#samples, #many')) {
        DO.none();
    }
});
onPage(show);
