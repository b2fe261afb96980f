// What controllers are told: where what their sliders move stands, and which of their pads hold something, and light as it plays.

import { FIRST_NOTE, PLACES } from '../midi.js';
import { placeElement } from '../dock.js';
import { onPage } from '../page.js';
import { allDevices, onDevices } from './devices.js';
import { mappingOf } from './mapping.js';
import { fieldOf } from './touched.js';
import { usedAs } from './uses.js';

const FILLED = 32;
const LIT_MS = 140;
/** What each was told last, by device and message. */
const told = new Map();

function tell(device, status, number, value) {
    const key = `${device.name} ${status} ${number}`;
    if (told.get(key) !== value) {
        told.set(key, value);
        device.send([status, number, value]);
    }
}

/** Those that want to be told: a box that sounds would play what is meant as light. */
function listening() {
    return allDevices().filter((device) => usedAs(device) === 'controller' && (mappingOf(device.name).told ?? device.place !== undefined));
}

function noteOf(device, place) {
    const known = Object.entries(mappingOf(device.name).places).find(([, one]) => one === place);

    return known ? Number(known[0]) : FIRST_NOTE + place;
}

export function tellControllers() {
    for (const device of listening()) {
        for (const [number, control] of Object.entries(mappingOf(device.name).sliders)) {
            const field = /^\d+$/.test(number) && control.name ? fieldOf(control) : null;
            if (field) {
                tell(device, 0xb0, Number(number), Math.round(127 * (field.value - field.min) / (field.max - field.min)));
            }
        }
        for (let place = 0; place < PLACES; place += 1) {
            const pad = placeElement(place);
            tell(device, 0x90, noteOf(device, place), pad && !('free' in pad.dataset) ? FILLED : 0);
        }
    }
}

document.addEventListener('pestle:struck', ({ detail: { source, velocity } }) => {
    const pad = document.querySelector(`.dock .pad[data-pad="${source}"], .dock .pad[data-note="${source}"]`);
    if (!pad) {
        return;
    }
    for (const device of listening()) {
        const note = noteOf(device, Number(pad.dataset.number));
        tell(device, 0x90, note, Math.max(FILLED + 1, velocity));
        setTimeout(() => tell(device, 0x90, note, FILLED), LIT_MS);
    }
});
document.addEventListener('change', ({ target }) => target.matches?.('[data-slider] input[type=range]') && tellControllers());
document.addEventListener('pestle:device-gone', ({ detail: { device } }) => {
    for (const key of [...told.keys()].filter((name) => name.startsWith(`${device.name} `))) {
        told.delete(key);
    }
});
onDevices('feedback', tellControllers);
onPage(tellControllers);
