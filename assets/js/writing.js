// Moves that are written: while it plays, what a control is moved through becomes how its parameter moves.

import { change } from './changes.js';
import { player } from './audio/player.js';
import { loopStart } from './loop-range.js';
import { goTo, onPage, page } from './page.js';
import { notice } from './notice.js';
import { songPlace } from './transport.js';

let on = false;
/** What was moved through and is not kept yet, by path. */
const moved = new Map();

/** The settings that a change sets: path and value of each number. */
function settings({ type, under, changeId, ...values }) {
    if (type === 'set-tempo') {
        return [['tempo', Number(values.bpm)]];
    }

    return type === 'set' ? Object.entries(values).filter(([, value]) => typeof value !== 'boolean' && value !== '' && Number.isFinite(Number(value))).map(([name, value]) => [(under ? `${under}/` : '') + name, Number(value)]) : [];
}

/** Where it plays, and what its ticks are counted in. */
function place() {
    return player.what === 'song'
        ? { tick: songPlace().ticks, scope: 'song', of: '' }
        : loopStart(player.loop?.section) === null ? { tick: player.ticks(), scope: 'section', of: page().section } : { tick: loopStart(player.loop.section) + player.ticks(), scope: 'song', of: '' };
}

/** A control is being moved. */
export function follow(fields) {
    if (!on || !player.playing) {
        return;
    }
    const { tick, scope, of } = place();
    for (const [path, value] of settings(fields)) {
        const was = moved.get(path);
        const same = was && was.scope === scope && was.of === of && tick >= was.points.at(-1)[0];
        moved.set(path, { scope, of, points: [...(same ? was.points : []), [Math.max(0, tick), value]] });
    }
}

/** What was moved through is kept, in place of the change the control stands for; false where nothing was written. */
export async function written(fields) {
    const passed = settings(fields).filter(([path]) => moved.has(path));
    const how = document.querySelector('[data-write-how]')?.value ?? 'touched';
    const { tick } = passed.length > 0 ? place() : {};
    const kept = passed.map(([path, value]) => {
        const { scope, of, points } = moved.get(path);
        moved.delete(path);

        return change({ type: 'write-movement', path, scope, of, points: [...points, [Math.max(points.at(-1)[0], tick), value]], how });
    });

    return passed.length > 0 && (await Promise.all(kept)).every(Boolean);
}

function show() {
    for (const button of document.querySelectorAll('[data-write-moves]')) {
        button.setAttribute('aria-pressed', String(on));
    }
    // Controls of what moves say so by their colour.
    const moving = new Set(page()?.moving ?? []);
    for (const control of document.querySelectorAll('input[hx-vals]')) {
        const fields = control.name ? { ...JSON.parse(control.getAttribute('hx-vals')), [control.name]: 0 } : {};
        const [[path] = []] = settings(fields);
        const holder = control.closest('[data-slider]') ?? control;
        if (path) {
            holder.toggleAttribute('data-moves', moving.has(path));
        }
    }
}

document.addEventListener('click', (event) => {
    if (event.target.closest('[data-write-moves]')) {
        on = !on;
        moved.clear();
        show();
        notice(on ? 'Moves are written: play, and what you move goes into the song, or into the section while it loops.' : 'Moves are not written any more.', { seconds: 6 });
    }
});

// What a control stands for can begin to move from where it is: by its menu.
document.addEventListener('contextmenu', (event) => {
    const control = event.target.closest?.('input[hx-vals]');
    const fields = control?.name ? { ...JSON.parse(control.getAttribute('hx-vals')), [control.name]: control.type === 'range' ? control.closest('[data-slider]')?.querySelector('input[type=number]')?.value ?? control.value : control.value } : {};
    const [[path, value] = []] = settings(fields);
    if (!/^(mixer|kit|part)\/|^tempo$/.test(path ?? '')) {
        return;
    }
    event.preventDefault();
    const begin = (scope, of) => async () => {
        if (await change({ type: 'set-movement', path, scope, of, points: [[0, value]] })) {
            await goTo(`/beats/${page().beat}/arrange?view=song&moves=${encodeURIComponent(`${scope}/${of}/${path}`)}`);
        }
    };
    const { section, pattern } = page();
    notice('Let it move', { seconds: 12, actions: {
        'over the song': begin('song', ''),
        'in this section': begin('section', section),
        ...(pattern && path !== 'tempo' ? { 'with this pattern': begin('pattern', pattern) } : {}),
    } });
});

onPage(show);
