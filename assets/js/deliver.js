// The form of a delivery: shows the files that will come.

import { RATE } from './audio/context.js';
import { onPage } from './page.js';

/** The files of a grouping of the maker's own: one for each name, in order. */
function ownFiles(own, returns) {
    const list = document.querySelector('[data-stem-names=own]');
    const off = new Set([...list.querySelectorAll('input:not(:checked)')].map((tick) => tick.value));
    const names = new Set([...own.querySelectorAll('[data-own]')].filter((input) => returns || !input.dataset.own.startsWith('r')).map((input) => input.value.trim()).filter((name) => name));
    list.replaceChildren(...[...names].map((name, i) => {
        const label = document.createElement('label');
        label.className = 'tick';
        const tick = document.createElement('input');
        Object.assign(tick, { type: 'checkbox', checked: !off.has(name), value: name });
        label.append(tick, own.dataset.file.replace('99', String(i + 1).padStart(2, '0')).replace('{}', name));

        return label;
    }));
}

function sync() {
    const form = document.getElementById('deliver-form');
    if (!form) {
        return;
    }
    const stems = form.elements.stems.value;
    const returns = form.elements.returns;
    const own = document.getElementById('own-stems');
    own.hidden = stems !== 'own';
    if (returns) {
        returns.closest('label').hidden = stems === 'none';
    }
    if (stems === 'own') {
        ownFiles(own, returns?.checked ?? false);
    }
    for (const list of document.querySelectorAll('[data-stem-names]')) {
        list.hidden = list.dataset.stemNames !== stems;
    }
    for (const stem of document.querySelectorAll('[data-return]')) {
        stem.hidden = !returns?.checked;
    }
    const names = [...own.querySelectorAll('[data-own]')].filter((input) => input.value.trim() !== '');
    form.elements.own.value = stems === 'own' ? JSON.stringify(Object.fromEntries(names.map((input) => [input.dataset.own, input.value.trim()]))) : '';
    const unticked = [...document.querySelectorAll(`[data-stem-names="${stems}"] label:not([hidden]) input:not(:checked)`)].map((tick) => tick.value);
    form.elements.leave.value = unticked.length > 0 ? JSON.stringify(unticked) : '';
    const whole = form.elements.what.value === 'beat';
    for (const choice of form.elements.loop) {
        choice.disabled = whole;
    }
    const float = form.elements.format.value === '32f';
    const also = [...form.elements.also];
    also.find((choice) => choice.value === 'flac').disabled = float;
    if (float && form.elements.also.value === 'flac') {
        also[0].checked = true;
    }
    document.getElementById('also-said').textContent = ALSO[form.elements.also.value];
    form.elements.dither.disabled = float;
    for (const label of form.querySelectorAll('[data-level]')) {
        label.hidden = label.dataset.level !== form.elements.level.value;
        // What is not shown is not asked for.
        label.querySelector('input').disabled = label.hidden;
    }
    saySize(form, document.querySelectorAll(`[data-stem-names="${stems}"] label:not([hidden]) input:checked`).length);
}

const ALSO = { none: '', flac: 'of all files, with tags', mp3: 'of the mix, 320 kbit/s, with tags', ogg: 'of the mix, with tags' };
const CHANNELS = 2;
/** At another rate each file is written as it is first. */
const FLOAT_BYTES = 4;
const size = (bytes) => bytes < 1e9 ? `${Math.max(1, Math.round(bytes / 1e6))} MB` : `${(bytes / 1e9).toFixed(1)} GB`;

/** How much the files will take, how much there is, and what does not fit. */
function saySize(form, stems) {
    const said = document.getElementById('deliver-size');
    const frames = JSON.parse(said.dataset.frames)[form.elements.what.value] ?? 0;
    const rate = Number(form.elements.rate.value) / RATE;
    const files = (1 + stems) * CHANNELS * (JSON.parse(said.dataset.bytes)[form.elements.format.value] * rate + (rate === 1 ? 0 : FLOAT_BYTES)) * frames;
    const bytes = files + ({ flac: files, mp3: frames, ogg: frames }[form.elements.also.value] ?? 0);
    const short = 2 * bytes > said.dataset.free;
    said.textContent = `Up to ${size(bytes)}, ${short ? `and as much again while it is packed; only ${size(said.dataset.free)} are free` : `${size(said.dataset.free)} free`}`;
    said.classList.toggle('text-paprika', short);
}

document.addEventListener('change', (event) => {
    if (event.target.form?.id === 'deliver-form') {
        if (event.target.name === 'format') {
            // Few bits want dither; more have no need of it.
            const { dither } = event.target.form.elements;
            dither.value = event.target.value === '16' ? '1' : '0';
            dither.dispatchEvent(new Event('change', { bubbles: true }));
        }
        sync();
    }
});
document.addEventListener('change', (event) => {
    if (event.target.closest('[data-stem-names]')) {
        sync();
    }
});
document.addEventListener('htmx:afterRequest', (event) => {
    if (event.target.id === 'deliver-form') {
        document.querySelector('[data-none]')?.remove();
    }
});
onPage(sync);
