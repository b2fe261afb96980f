// All that stands beside: devices of Web MIDI where the browser has it, and programs that stand in for them. Each speaks bytes
// with the moment they belong to; who wants them listens by kind of message.

import { StandIn } from './stand-in.js';

/** System real time and common messages: what clocks say. */
const CLOCK = 0xf0;
const LOOK_EVERY_MS = 2000;

/** @typedef device {name, kind, send(bytes, moment), canSound, listen(on)} */
const devices = new Map();
const listeners = new Map();
/** Programs that are there, or on their way. */
const coming = new Set();

/** Calls back when devices come or go, in the name of who wants to know; null ends it. */
export function onDevices(who, callback) {
    if (callback) {
        listeners.set(who, callback);
    } else {
        listeners.delete(who);
    }
}

export function allDevices() {
    return [...devices.values()].sort((a, b) => a.name.localeCompare(b.name));
}

function announce() {
    listeners.forEach((callback) => callback());
}

function add(key, device) {
    devices.set(key, device);
    announce();
}

function remove(key) {
    const device = devices.get(key);
    if (device && devices.delete(key)) {
        tell('pestle:device-gone', { device });
        announce();
    }
}

function tell(name, detail) {
    document.dispatchEvent(new CustomEvent(name, { detail }));
}

/** Bytes of a device, as they were sent at a moment. */
function came(device, bytes, moment) {
    tell(bytes[0] >= CLOCK ? 'pestle:clock' : 'pestle:played', { device, bytes, moment });
}

/** Looks which programs stand beside. */
async function lookBeside() {
    const response = await fetch('/beside').catch(() => null);
    const there = response?.ok ? (await response.json()).devices : [];
    for (const place of there.filter((name) => !coming.has(name))) {
        coming.add(place);
        new StandIn(place, {
            ready: (device) => add(`/${place}`, device),
            midi: (bytes, moment, device) => came(device, bytes, moment),
            sound: (frame, moment, samples, device) => tell('pestle:sound-beside', { device, frame, moment, samples }),
            gone: () => {
                coming.delete(place);
                remove(`/${place}`);
            },
        });
    }
}

/**
 * Asks the browser for the devices that it knows: what they play comes in, and what is sent goes out.
 *
 * @returns {Promise<string>} what there is to be told
 */
export async function askBrowser() {
    if (!navigator.requestMIDIAccess) {
        return 'This browser knows no MIDI; the simulated controller and the programs that stand in work everywhere.';
    }
    try {
        const access = await navigator.requestMIDIAccess();
        access.onstatechange = () => takeIn(access);
        takeIn(access);
        const names = [...new Set([...access.inputs.values(), ...access.outputs.values()].map(({ name }) => name))];

        return names.length > 0 ? `Connected: ${names.join(', ')}.` : 'No MIDI device is plugged in. One that is plugged in later is found by itself.';
    } catch {
        return 'The browser does not let Pestle use MIDI: allow it for this address, then try again.';
    }
}

function takeIn({ inputs, outputs }) {
    const there = new Set();
    for (const port of [...inputs.values(), ...outputs.values()].filter(({ state }) => state === 'connected')) {
        there.add(`midi ${port.name}`);
        const known = devices.get(`midi ${port.name}`);
        const device = known ?? { name: port.name, kind: 'controller', canSound: false, outs: new Map(), listen() {}, send(bytes, moment) { this.outs.forEach((out) => out.send(bytes, moment)); } };
        if (port.type === 'input') {
            port.onmidimessage = ({ data, timeStamp }) => came(device, [...data], timeStamp);
        } else {
            device.outs.set(port.id, port);
        }
        if (!known) {
            add(`midi ${port.name}`, device);
        }
    }
    for (const key of [...devices.keys()].filter((name) => name.startsWith('midi ') && !there.has(name))) {
        remove(key);
    }
}

lookBeside();
setInterval(() => document.getElementById('controllers')?.hidden === false && lookBeside(), LOOK_EVERY_MS);
