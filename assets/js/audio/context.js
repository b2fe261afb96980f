// One audio context at the rate beats are rendered at, made at the first gesture.

import { notice } from '../notice.js';
import { askEngine, patiently } from '../patient.js';
import { RATE } from '../time.js';
import { SoundClock } from './sound-clock.js';

export { RATE };
export const CROSSFADE = 0.012;
const LOOK_MS = 60;
let context = null;

export function audio() {
    if (context === null) {
        context = new AudioContext({ sampleRate: RATE, latencyHint: 'interactive' });
        setInterval(() => context.state === 'running' && clock.look(context.getOutputTimestamp()), LOOK_MS);
    }
    if (context.state === 'suspended') {
        context.resume();
    }

    return context;
}

let out = null;

/** Where all that plays goes; struck pads go beside it. */
export function output() {
    out ??= new GainNode(audio());
    out.connect(audio().destination);

    return out;
}

/** All that plays this much louder or softer, from now on. */
export function setOutput(gainDb) {
    output().gain.setTargetAtTime(10 ** (gainDb / 20), audio().currentTime, CROSSFADE);
}

const clock = new SoundClock();

function look() {
    if (!clock.isKnown) {
        clock.look(audio().getOutputTimestamp());
    }
}

/** The audio clock, in seconds, of what was heard at a moment (an event's timeStamp), however late it is looked at. */
export function heardAt(moment = performance.now()) {
    look();

    return clock.isKnown ? clock.time(moment) : audio().currentTime + (moment - performance.now()) / 1000;
}

/** The moment, as performance.now() counts, at which what the audio clock has at a time is heard. */
export function momentOf(time) {
    look();

    return clock.isKnown ? clock.moment(time) : performance.now() + 1000 * (time - audio().currentTime);
}

/** Takes an answer apart: its JSON and the two sides of its sound. */
export function readSound(bytes) {
    const view = new DataView(bytes);
    let at = 0;
    // Zeros were sent while it was worked on.
    while (view.getUint32(at, true) === 0) {
        at += 4;
    }
    const length = view.getUint32(at, true);
    const answer = JSON.parse(new TextDecoder().decode(new Uint8Array(bytes, at + 4, length)));
    const values = new Int32Array(bytes, at + 4 + length);
    const left = new Float32Array(values.length / 2);
    const right = new Float32Array(values.length / 2);
    for (let i = 0, k = 0; i < left.length; i += 1) {
        left[i] = values[k++] / 8388608;
        right[i] = values[k++] / 8388608;
    }

    return { answer, left, right };
}

/** Asks for rendered sound: {answer, left, right}, or {problem}. */
export function askForSound(url, options, wanted) {
    return askEngine(url, options, async (response) => readSound(await response.arrayBuffer()), wanted);
}

export function toBuffer(left, right) {
    const buffer = audio().createBuffer(2, Math.max(1, left.length), RATE);
    buffer.copyToChannel(left, 0);
    buffer.copyToChannel(right, 1);

    return buffer;
}

const MOST_SOUNDS = 320;
const sounds = new Map();

function say(progress) {
    notice(progress === null ? 'Working out the edits …' : `Working out the edits: ${Math.round(100 * progress)} %`);
}

async function load(url) {
    const response = await patiently(url, say);
    if (!response.ok) {
        throw new Error((await response.json()).error);
    }

    return readSound(await response.arrayBuffer());
}

function remember(url, loading) {
    loading.catch(() => sounds.delete(url));
    sounds.set(url, loading);
    if (sounds.size > MOST_SOUNDS) {
        sounds.delete(sounds.keys().next().value);
    }
}

/** Fetches a sound once; the same address is the same sound. */
export function fetchSound(url) {
    if (!sounds.has(url)) {
        remember(url, load(url));
    }

    return sounds.get(url);
}

/** Pieces of sounds that are on their way, by address. */
const begun = new Map();

/**
 * A sound that is wanted at once and not there yet: gives what fetches its pieces, by number from 0 on; the last one's
 * answer has no "more". Null where the whole is there, or nearly.
 */
export function piecesOf(url) {
    if (!sounds.has(url)) {
        const pieces = [];
        const piece = (n) => { pieces[n] ??= load(`${url}&piece=${n}`); return pieces[n]; };
        begun.set(url, piece);
        remember(url, allOf(piece).finally(() => begun.delete(url)));
    }

    return begun.get(url) ?? null;
}

async function allOf(piece) {
    const all = [];
    do {
        all.push(await piece(all.length));
    } while (all.at(-1).answer.more);
    const join = (side) => {
        const whole = new Float32Array(all.reduce((sum, one) => sum + one[side].length, 0));
        all.reduce((at, one) => { whole.set(one[side], at); return at + one[side].length; }, 0);

        return whole;
    };

    return { answer: all[0].answer, left: join('left'), right: join('right') };
}

/** For what came under the name of another state of the beat. */
export function forgetSound(url) {
    sounds.delete(url);
}
