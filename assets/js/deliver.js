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
    const { what, loop, trim, format, also, mix } = form.elements;
    const bars = what.value === 'bars';
    document.getElementById('bars-choice').hidden = !bars;
    for (const field of [form.elements.fromBar, form.elements.toBar]) {
        field.disabled = !bars;
    }
    for (const choice of loop) {
        // Bars of the song are cut out of it, and the song does not go round.
        choice.disabled = { 0: bars, 1: what.value === 'beat' }[choice.value] ?? false;
    }
    if ([...loop].find((choice) => choice.checked)?.disabled) {
        [...loop].find((choice) => !choice.disabled).checked = true;
    }
    trim.disabled = loop.value === '1';
    const float = format.value === '32f';
    const copies = [...form.querySelectorAll('[data-also]')];
    copies.find((choice) => choice.dataset.also === 'flac').disabled = float;
    also.value = copies.filter((choice) => choice.checked && !choice.disabled).map((choice) => choice.dataset.also).join(',');
    also.disabled = also.value === '';
    const wantsMix = document.getElementById('wants-mix');
    wantsMix.disabled = stems === 'none';
    wantsMix.checked ||= wantsMix.disabled;
    mix.value = wantsMix.checked ? '1' : '0';
    document.getElementById('also-said').textContent = saidOf(also.value);
    form.elements.dither.disabled = float;
    for (const label of form.querySelectorAll('[data-level]')) {
        label.hidden = label.dataset.level !== form.elements.level.value;
        // What is not shown is not asked for.
        label.querySelector('input').disabled = label.hidden;
    }
    saySize(form, document.querySelectorAll(`[data-stem-names="${stems}"] label:not([hidden]) input:checked`).length, wantsMix.checked);
}

/** What is packed how. */
function saidOf(also) {
    return [also.includes('flac') ? 'FLAC of all files' : '', /mp3|ogg/.test(also) ? `${also.includes('flac') ? 'the others ' : ''}of the mix alone` : ''].filter((part) => part).join(', ');
}

const CHANNELS = 2;
/** At another rate each file is written as it is first. */
const FLOAT_BYTES = 4;
const size = (bytes) => bytes < 1e9 ? `${Math.max(1, Math.round(bytes / 1e6))} MB` : `${(bytes / 1e9).toFixed(1)} GB`;

function framesOf(form, said) {
    if (form.elements.what.value !== 'bars') {
        return JSON.parse(said.dataset.frames)[form.elements.what.value] ?? 0;
    }
    const starts = JSON.parse(said.dataset.starts);

    return Math.max(0, (starts[form.elements.toBar.value] ?? 0) - (starts[form.elements.fromBar.value - 1] ?? 0));
}

/** How much the files will take, how much there is, and what does not fit. */
function saySize(form, stems, mix) {
    const said = document.getElementById('deliver-size');
    const frames = framesOf(form, said);
    const rate = Number(form.elements.rate.value) / RATE;
    const files = (Number(mix) + stems) * CHANNELS * (JSON.parse(said.dataset.bytes)[form.elements.format.value] * rate + (rate === 1 ? 0 : FLOAT_BYTES)) * frames;
    const lossy = (form.elements.also.value.match(/mp3|ogg/g) ?? []).length;
    const bytes = files * (form.elements.also.value.includes('flac') ? 2 : 1) + lossy * frames * (mix ? 1 : stems);
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
    if (event.target.closest('[data-stem-names]') || event.target.id === 'wants-mix') {
        sync();
    }
});
document.addEventListener('click', ({ target }) => {
    const which = target.closest?.('[data-files]')?.dataset.files;
    if (which) {
        for (const tick of document.querySelectorAll('#wants-mix:not(:disabled), [data-stem-names]:not([hidden]) label:not([hidden]) input')) {
            tick.checked = which === 'all';
        }
        sync();
    }
});
document.addEventListener('htmx:afterRequest', (event) => {
    if (event.target.id === 'deliver-form') {
        document.querySelector('[data-none]')?.remove();
    }
});
onPage(sync);
