// Drums that are made: heard as they are set, put on pads as sounds of the library.

import { change } from './changes.js';
import { audio, fetchSound, output, toBuffer } from './audio/context.js';
import { notice } from './notice.js';
import { onPage } from './page.js';
import { ask } from './uploads.js';

const KEPT = 'pestle-drums';
const HIGHEST_SEED = 999999999;

const panel = () => document.querySelector('[data-made-drum]');
const fresh = () => Math.floor(Math.random() * HIGHEST_SEED);

/** What was set last, by role. */
function kept() {
    return JSON.parse(localStorage.getItem(KEPT) ?? '{}');
}

function drum() {
    const { role, ...set } = Object.fromEntries([...panel().querySelectorAll('[data-drum]')].map((input) => [input.dataset.drum, input.dataset.drum === 'role' ? input.value : Number(input.value)]));

    return { role, ...set, seed: kept()[role]?.seed ?? 1 };
}

function keep(set) {
    localStorage.setItem(KEPT, JSON.stringify({ ...kept(), [set.role]: set }));
}

function say() {
    for (const label of panel().querySelectorAll('.drum-set:has(output)')) {
        label.querySelector('output').textContent = Number(label.querySelector('input').value).toFixed(2).replace(/\.?0+$/, '');
    }
}

/** Shows what a role was set to last; one that never was is made by chance. */
async function show() {
    const role = panel().querySelector('[data-drum=role]').value;
    const set = kept()[role] ?? { role, ...await ask(`/drums/${role}/another?seed=${fresh()}`) };
    if (panel()?.querySelector('[data-drum=role]').value !== role) {
        return;
    }
    keep(set);
    for (const input of panel().querySelectorAll('input[data-drum]')) {
        input.value = set[input.dataset.drum];
    }
    say();
}

function query({ role, ...set }) {
    return `/drums/${role}?${new URLSearchParams(set)}`;
}

async function hear() {
    const sound = await fetchSound(query(drum()));
    sound.buffer ??= toBuffer(sound.left, sound.right);
    const source = audio().createBufferSource();
    source.buffer = sound.buffer;
    source.connect(output());
    source.start();
    document.dispatchEvent(new CustomEvent('pestle:drum', { detail: { frames: sound.buffer.length } }));
}

async function another() {
    const { role, ...set } = drum();
    keep({ role, ...await ask(`/drums/${role}/another?${new URLSearchParams({ ...set, seed: fresh() })}`) });
    await show();
    await hear();
}

async function make(body) {
    const { sounds } = await ask('/drums', { method: 'POST', body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } });

    return sounds;
}

/** In place of what a pad plays: its hits and its settings stay. */
async function put(pad) {
    const [{ sample, frames, name, role }] = await make({ drums: [drum()] });
    await change({ type: 'fill-pad', pad, sample, name, role, start: 0, end: frames });
}

async function land(pad, how, body) {
    await change({ type: 'land-sounds', pad, how, sounds: await make(body) });
}

async function does({ drumHear, drumAnother, drumPut, drumFree, drumKit, how }) {
    try {
        if (drumHear !== undefined) {
            await hear();
        } else if (drumAnother !== undefined) {
            await another();
        } else if (drumPut) {
            await put(drumPut);
        } else if (drumFree) {
            await land(drumFree, 'free', { drums: [drum()] });
        } else if (drumKit) {
            const shelf = document.querySelector('[data-drum-shelf]').value;
            await land(drumKit, how, shelf ? { shelf } : { kit: fresh() });
        }
    } catch (problem) {
        notice(problem.message, { bad: true });
    }
}

document.addEventListener('click', ({ target }) => {
    const button = target.closest('[data-drum-hear], [data-drum-another], [data-drum-put], [data-drum-free], [data-drum-kit]');
    if (button) {
        does(button.dataset);
    }
});

document.addEventListener('input', ({ target }) => {
    if (target.dataset?.drum && target.dataset.drum !== 'role') {
        say();
    }
});

document.addEventListener('change', ({ target }) => {
    if (target.dataset?.drum === 'role') {
        show();
    } else if (target.dataset?.drum) {
        keep(drum());
        hear();
    }
});

// A pad that plays a made drum shows what that was made by.
let recipe = null;
onPage(() => {
    const own = panel()?.dataset.recipe ?? null;
    if (own && own !== recipe) {
        keep(JSON.parse(own));
    }
    recipe = own;
    if (panel()) {
        show();
    }
});
