// Struck pads and notes: sounds rendered by PHP at some strengths, played at once. What lies between two of them is gain here.
// What a strike ends, and how a held one dies away, follows the rules by which PHP renders them.

import { audio, fetchSound, forgetSound, piecesOf, RATE, toBuffer } from './context.js';
import { pause } from '../pause.js';

/** As PHP's: frames in which a voice dies that another ends, and that is let go without a release. */
const CHOKE_SECONDS = 256 / RATE;
const LET_GO_SECONDS = 96 / RATE;
const buffers = new WeakMap();
let voices = [];

/** What is put together of pieces begins so much later, so that each can be placed to the frame. */
const AHEAD_SECONDS = 256 / RATE;

const SETTLE_MS = 250;
let wanted = [];

/** Fetches sounds ahead, one after another, so that a first strike does not wait behind fifteen others; a later call takes its place. */
export async function prefetch(urls) {
    wanted = urls;
    // Several changes may follow one another: only what stays is worth fetching.
    await pause(SETTLE_MS);
    for (const url of urls) {
        if (wanted !== urls) {
            return;
        }
        await fetchSound(url).catch(() => {});
    }
}

/**
 * Plays a sound and ends what it ends.
 *
 * @param strike {url, gain, says, ends, at}: names under which it ends others, and how many strikes that say a name end it; as PHP's Strike
 */
export async function strike({ url, gain, says, ends, at = 0 }) {
    const context = audio();
    const pieces = piecesOf(url);
    const sound = await (pieces ? pieces(0) : fetchSound(url));
    if (sound.answer.old || sound.answer.working !== undefined) {
        forgetSound(url);
    }
    const now = Math.max(context.currentTime, at);
    for (const voice of [...voices]) {
        const said = says.filter((name) => name in voice.ends);
        for (const name of said) {
            voice.ends[name] -= 1;
        }
        if (said.some((name) => voice.ends[name] < 1)) {
            silence(voice, now, CHOKE_SECONDS);
        }
    }
    if (!pieces) {
        return sounding({ ends: { ...ends } }, bufferOf(sound), gain, { at });
    }
    const start = Math.ceil(Math.max(now, context.currentTime + AHEAD_SECONDS) * RATE) / RATE;
    const voice = sounding({ ends: { ...ends } }, bufferOf(sound), gain, { at: start });
    goOn(voice, pieces, sound);

    return voice;
}

function bufferOf(sound) {
    if (!buffers.has(sound)) {
        buffers.set(sound, toBuffer(sound.left, sound.right));
    }

    return buffers.get(sound);
}

/** Piece after piece behind the first, each where the one before ends; one that comes late is joined where it would be by then. A pad may be cleared while it rings: then the rest stays away. */
async function goOn(voice, pieces, first) {
    let frames = first.left.length;
    for (let n = 1, last = first; last.answer.more; n += 1) {
        last = await pieces(n).catch(() => null);
        if (!last) {
            return;
        }
        const due = voice.started + frames / RATE;
        const late = Math.max(0, audio().currentTime + AHEAD_SECONDS - due);
        if (!voice.stopped && late < last.left.length / RATE) {
            add(voice, bufferOf(last), late > 0 ? due + late : due, late);
        }
        frames += last.left.length;
    }
}

/**
 * Plays a stretch of a sample as it is, once or round and round; `from` and `seconds` in seconds; `at` by the audio clock.
 * What was listened to before ends, unless this goes on from it.
 */
export async function audition(url, from = 0, seconds = undefined, round = false, at = 0, goesOn = false) {
    const context = audio();
    const sound = await fetchSound(url);
    for (const voice of voices.filter((v) => v.audition && !goesOn)) {
        silence(voice, context.currentTime, CHOKE_SECONDS);
    }

    return sounding({ audition: true, round, ends: {} }, bufferOf(sound), 1, { from, seconds, at });
}

/** Ends what is listened to. */
export function hush() {
    for (const voice of voices.filter((v) => v.audition)) {
        silence(voice, audio().currentTime, CHOKE_SECONDS);
    }
}

function sounding(voice, buffer, level, { from = 0, seconds = undefined, at = 0 }) {
    const context = audio();
    const gain = context.createGain();
    gain.gain.value = level;
    gain.connect(context.destination);
    const playing = { ...voice, sources: [], gain, level, started: Math.max(at, context.currentTime) - from };
    voices.push(playing);
    add(playing, buffer, at, from, seconds);

    return playing;
}

function add(voice, buffer, at, from, seconds = undefined) {
    const source = audio().createBufferSource();
    source.buffer = buffer;
    source.connect(voice.gain);
    if (voice.round) {
        Object.assign(source, { loop: true, loopStart: from, loopEnd: from + seconds });
        source.start(at, from);
    } else {
        source.start(at, from, seconds);
    }
    voice.sources.push(source);
    source.addEventListener('ended', () => {
        voice.sources = voice.sources.filter((other) => other !== source);
        if (voice.sources.length === 0) {
            voices = voices.filter((v) => v !== voice);
        }
    });
    if (voice.stopsAt !== undefined) {
        source.stop(Math.max(at, voice.stopsAt));
    }
}

function stop(voice, at) {
    voice.stopsAt = at;
    voice.sources.forEach((source) => source.stop(at));
}

/** Lets a voice die away as its release says, at once or a little later. */
export function release(voice, { seconds = 0, bend = 0, later = 0 } = {}) {
    const at = audio().currentTime + later;
    if (seconds <= LET_GO_SECONDS || bend === 0) {
        silence(voice, at, Math.max(LET_GO_SECONDS, seconds));

        return;
    }
    // It may still be ended by another strike on its way.
    const k = 6 * bend;
    const curve = Float32Array.from({ length: 64 }, (_, i) => voice.level * (1 - (1 - Math.exp(-k * i / 63)) / (1 - Math.exp(-k))));
    voice.gain.gain.setValueCurveAtTime(curve, at, seconds);
    stop(voice, at + seconds);
}

function silence(voice, now, seconds) {
    voices = voices.filter((v) => v !== voice);
    voice.stopped = true;
    const { gain } = voice.gain;
    // From where it is by then, which may be on its way down.
    gain.cancelAndHoldAtTime(now);
    gain.linearRampToValueAtTime(0, now + seconds);
    stop(voice, now + seconds);
}
