// Others run in time with Pestle: 24 pulses a quarter, start, continue, stop and song position, each for the moment at which what
// belongs to it is heard. Source: MIDI 1.0 Detailed Specification, System Real Time.

import { audio, momentOf } from '../audio/context.js';
import { player } from '../audio/player.js';
import { page, songTime } from '../page.js';
import { framesAt, loopFrames, loopTicks, ticksAt } from '../time.js';
import { PULSES, PULSE_TICKS } from './pulses.js';

const TURN_MS = 25;
/** So far ahead, in seconds, pulses are sent. */
const AHEAD = 0.12;
const START = 0xfa;
const CONTINUE = 0xfb;

const led = new Set();
/** Next pulse of what plays, null while nothing does; and when the next one falls while nothing plays. */
let next = null;
let idle = 0;

export function leads(name) {
    return [...led].some((device) => device.name === name);
}

export function lead(device) {
    led.add(device);
    // Its clock is looked at from now on.
    audio();
    // It joins on the next downbeat.
    next = null;
}

export function stopLeading(name) {
    for (const device of [...led].filter((one) => one.name === name)) {
        device.send([0xfc]);
        led.delete(device);
    }
}

document.addEventListener('pestle:device-gone', ({ detail: { device } }) => led.delete(device));

function send(bytes, moment) {
    led.forEach((device) => device.send(bytes, moment));
}

/** When a pulse of what plays falls, by the audio clock. */
function when(pulse) {
    const ticks = pulse * PULSE_TICKS;
    if (player.what === 'song') {
        return player.course.when(framesAt(ticks, songTime()));
    }
    const { frames, ticks: length } = player.loop;
    const pass = Math.floor(ticks / length);

    return player.course.when(pass * frames + loopFrames(ticks - pass * length, player.loop));
}

/** The pulse, and its share, that is played at a time of the audio clock. */
function pulseAt(at) {
    const frame = player.course.frame(at);
    if (player.what === 'song') {
        return ticksAt(frame, songTime()) / PULSE_TICKS;
    }
    const { frames, ticks } = player.loop;
    const pass = Math.floor(frame / frames);

    return (pass * ticks + loopTicks(frame - pass * frames, player.loop)) / PULSE_TICKS;
}

function turn() {
    if (led.size === 0 || !page()) {
        return;
    }
    if (player.playing && player.sounds && (player.loop || player.what === 'song')) {
        goOn();
    } else if (next !== null) {
        next = null;
        send([0xfc], performance.now());
        idle = performance.now();
    } else {
        rest();
    }
}

function goOn() {
    const now = audio().currentTime;
    const at = pulseAt(now);
    // Elsewhere than it was: a jump, or another loop.
    if (next === null || at - next > PULSES / 2 || next - at > page().bar / PULSE_TICKS + PULSES) {
        begin(at);
    }
    for (let moment = when(next); moment < now + AHEAD; moment = when(next)) {
        send([0xf8], momentOf(moment));
        next += 1;
    }
}

/** Where it begins they start; where it plays already, or is elsewhere, they go on from its next bar. */
function begin(at) {
    const bar = page().bar / PULSE_TICKS;
    next = at <= 0 ? 0 : Math.ceil((at + 2) / bar) * bar;
    const moment = momentOf(when(next)) - 1;
    if (next === 0) {
        send([START], moment);
    } else {
        const sixteenths = Math.round(next / 6);
        send([0xf2, sixteenths & 127, sixteenths >> 7 & 127], moment);
        send([CONTINUE], moment);
    }
}

/** While nothing plays they are told the tempo. */
function rest() {
    const now = performance.now();
    idle = Math.max(idle, now - 100);
    for (; idle < now + 1000 * AHEAD; idle += 60_000 / PULSES / page().bpm) {
        send([0xf8], idle);
    }
}

setInterval(turn, TURN_MS);
