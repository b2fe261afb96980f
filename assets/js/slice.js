// What is said of one slice: the fields follow the chosen one, a change of them is a change of it.

import { change } from './changes.js';
import { goTo, onPage } from './page.js';

function panel() {
    return document.querySelector('[data-slice]');
}

function wave() {
    return document.querySelector('pestle-wave');
}

function say(settings) {
    return change({ ...JSON.parse(panel().dataset.slice), slice: wave().slice, ...settings });
}

function show() {
    if (!panel() || !wave()) {
        return;
    }
    const slice = JSON.parse(panel().dataset.slices)[wave().slice];
    document.getElementById('slice-number').textContent = wave().slice + 1;
    for (const field of panel().querySelectorAll('[data-of-slice]')) {
        if (field !== document.activeElement) {
            const value = slice?.[field.name] ?? '';
            field.value = field.name === 'end' && value !== '' ? (value / Number(wave().dataset.rate)).toFixed(3) : value;
        }
    }
    panel().querySelector('[data-slice-reverse]').setAttribute('aria-pressed', String(Boolean(slice?.reversed)));
}

document.addEventListener('change', (event) => {
    if (event.target.dataset && 'ofSlice' in event.target.dataset) {
        const { name, value } = event.target;
        say({ [name]: name === 'end' && value !== '' ? Math.round(Number(value) * Number(wave().dataset.rate)) : value });
    }
});
document.addEventListener('click', (event) => {
    const button = event.target.closest?.('[data-slice-reverse], [data-slice-next]');
    if (button) {
        say('sliceNext' in button.dataset ? { end: null } : { reversed: Number(button.getAttribute('aria-pressed') !== 'true') });
    }
});
/** The chosen slice as an instrument: the engine's ear says which note it is. */
async function playOnKeys(button) {
    const [from, to] = [wave().dataset.markers, wave().dataset.ends].map((list) => JSON.parse(list)[wave().slice]);
    const heard = await fetch(wave().url('pitch', { from, to })).then((response) => response.json()).catch(() => ({}));
    const slice = JSON.parse(panel().dataset.slices)[wave().slice];
    const name = slice?.name || `Slice ${wave().slice + 1}`;
    if (await change({ ...JSON.parse(button.dataset.sliceKeys), name, start: from, end: to, rootCents: Math.round(100 * (heard.note ?? 60)) })) {
        await goTo(button.dataset.then);
    }
}

document.addEventListener('click', (event) => {
    const button = event.target.closest?.('[data-slice-keys]');
    if (button) {
        playOnKeys(button);
    }
});
document.addEventListener('pestle:slice-end', ({ detail }) => say(detail));
document.addEventListener('pestle:chosen', show);
onPage(show);
