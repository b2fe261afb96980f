// Slices in an order of the maker's own: taken by a click, dragged into place, heard, sent to a pattern.

import { hush } from './audio/pads.js';
import { change } from './changes.js';
import { goTo, onPage } from './page.js';
import { notice } from './notice.js';
import { pause } from './pause.js';

let order = [];
let sample = null;
let hearing = 0;

function wave() {
    return document.querySelector('pestle-wave');
}

function regions() {
    const [markers, ends] = [JSON.parse(wave().dataset.markers), JSON.parse(wave().dataset.ends)];
    const frames = Number(wave().dataset.frames);

    return markers.map((start, i) => [start, Math.min(frames, ends[i] ?? markers[i + 1] ?? frames)]);
}

function draw() {
    const list = document.getElementById('arranged');
    if (!list) {
        return;
    }
    list.replaceChildren(...order.map((slice, place) => {
        const item = document.createElement('li');
        item.className = 'chip';
        item.draggable = true;
        item.tabIndex = 0;
        item.dataset.place = place;
        item.textContent = slice + 1;
        item.setAttribute('aria-label', `Slice ${slice + 1}, place ${place + 1}. Arrow keys move it, Delete takes it out.`);

        return item;
    }));
    const rate = Number(wave().dataset.rate);
    const seconds = order.reduce((sum, slice) => sum + (regions()[slice][1] - regions()[slice][0]) / rate, 0);
    const bpm = Number(document.getElementById('bpm').value);
    document.getElementById('arranged-length').textContent = order.length === 0 ? 'nothing yet' : `${order.length} slices, ${seconds.toFixed(2)} s, ${(seconds * bpm / 240).toFixed(2)} bars of the beat`;
}

/** Plays the order; the wave shows where each comes from. */
async function hear() {
    const run = ++hearing;
    for (const [place, slice] of order.entries()) {
        const [start, end] = regions()[slice];
        const rate = Number(wave().dataset.rate);
        document.querySelectorAll('#arranged .chip').forEach((chip, i) => chip.toggleAttribute('data-playing', i === place));
        await wave().hearSlice(slice);
        await pause(1000 * (end - start) / rate);
        if (run !== hearing || !wave()) {
            return;
        }
    }
    document.querySelectorAll('#arranged .chip').forEach((chip) => chip.removeAttribute('data-playing'));
}

async function send() {
    if (order.length === 0) {
        notice('Take some slices first.', { bad: true });

        return;
    }
    const panel = document.querySelector('[data-arranger]');
    const then = panel.dataset.then;
    if (await change({ ...JSON.parse(panel.dataset.arranger), order })) {
        order = [];
        await goTo(then);
    }
}

function move(from, to) {
    if (to >= 0 && to < order.length) {
        order.splice(to, 0, ...order.splice(from, 1));
        draw();
        document.querySelectorAll('#arranged .chip')[to].focus();
    }
}

document.addEventListener('click', (event) => {
    const take = event.target.closest('[data-take-slice]');
    const tool = event.target.closest('[data-arranged]')?.dataset.arranged;
    if (take) {
        const slice = Number(take.dataset.takeSlice);
        order.push(slice);
        draw();
        wave().hearSlice(slice);
    } else if (tool) {
        ({
            play: hear,
            back: () => { order.pop(); draw(); },
            clear: () => { order = []; hearing += 1; hush(); draw(); },
            send,
        })[tool]();
    }
});
document.addEventListener('pestle:slice', (event) => {
    if (document.getElementById('arranged')) {
        order.push(event.detail);
        draw();
    }
});
document.addEventListener('keydown', (event) => {
    const chip = event.target.closest?.('#arranged .chip');
    const place = Number(chip?.dataset.place);
    const act = chip && { ArrowLeft: () => move(place, place - 1), ArrowRight: () => move(place, place + 1), Delete: () => { order.splice(place, 1); draw(); } }[event.key];
    if (act) {
        event.preventDefault();
        act();
    }
});
document.addEventListener('dragstart', (event) => {
    if (event.target.matches?.('#arranged .chip')) {
        event.dataTransfer.setData('application/x-pestle-place', event.target.dataset.place);
    }
});
document.addEventListener('dragover', (event) => {
    if (event.target.closest?.('#arranged')) {
        event.preventDefault();
    }
});
document.addEventListener('drop', (event) => {
    const list = event.target.closest?.('#arranged');
    const from = event.dataTransfer.getData('application/x-pestle-place');
    if (list && from !== '') {
        event.preventDefault();
        move(Number(from), Number(event.target.closest('.chip')?.dataset.place ?? order.length - 1));
    }
});
onPage(() => {
    if (wave() && wave().dataset.sample !== sample) {
        sample = wave().dataset.sample;
        order = [];
    }
    if (wave()) {
        order = order.filter((slice) => slice < regions().length);
        draw();
    }
});
