// Struck pads: sounds rendered by PHP at some strengths, played at once. What lies between two of them is gain here.

import { audio, fetchSound, forgetSound, toBuffer } from './context.js';

const CHOKE_SECONDS = 0.006;
const RELEASE_SECONDS = 0.01;
const buffers = new WeakMap();
let voices = [];

/** The same curve as PHP's: velocity 64 sounds 9 dB softer than 127. */
function gainOf(velocity) {
    return (velocity / 127) ** 1.5;
}

const SETTLE_MS = 250;
let wanted = [];

/** Fetches sounds ahead, one after another, so that a first strike does not wait behind fifteen others; a later call takes its place. */
export async function prefetch(urls) {
    wanted = urls;
    // Several changes may follow one another: only what stays is worth fetching.
    await new Promise((resolve) => { setTimeout(resolve, SETTLE_MS); });
    for (const url of urls) {
        if (wanted !== urls) {
            return;
        }
        await fetchSound(url).catch(() => {});
    }
}

/** Plays a sound; the voice before it in the same pad or choke group is silenced. */
export async function strike({ pad, url, velocity, rendered, choke = 0 }) {
    const context = audio();
    const sound = await fetchSound(url);
    if (sound.answer.old || sound.answer.working !== undefined) {
        forgetSound(url);
    }
    const now = context.currentTime;
    for (const voice of voices.filter((v) => v.pad === pad || (choke > 0 && v.choke === choke))) {
        silence(voice, now, CHOKE_SECONDS);
    }
    if (!buffers.has(sound)) {
        buffers.set(sound, toBuffer(sound.left, sound.right));
    }

    return sounding({ pad, choke }, buffers.get(sound), gainOf(velocity) / gainOf(rendered));
}

/**
 * Plays a stretch of a sample as it is, once or round and round; `from` and `seconds` in seconds; `at` by the audio clock.
 * What was listened to before ends, unless this goes on from it.
 */
export async function audition(url, from = 0, seconds = undefined, round = false, at = 0, goesOn = false) {
    const context = audio();
    const sound = await fetchSound(url);
    for (const voice of voices.filter((v) => v.pad === 'audition' && !goesOn)) {
        silence(voice, context.currentTime, CHOKE_SECONDS);
    }
    if (!buffers.has(sound)) {
        buffers.set(sound, toBuffer(sound.left, sound.right));
    }

    return sounding({ pad: 'audition', choke: 0, round }, buffers.get(sound), 1, from, seconds, at);
}

/** Ends what is listened to. */
export function hush() {
    for (const voice of voices.filter((v) => v.pad === 'audition')) {
        silence(voice, audio().currentTime, CHOKE_SECONDS);
    }
}

function sounding(voice, buffer, level, from = 0, seconds = undefined, at = 0) {
    const context = audio();
    const source = context.createBufferSource();
    const gain = context.createGain();
    source.buffer = buffer;
    gain.gain.value = level;
    source.connect(gain).connect(context.destination);
    if (voice.round) {
        Object.assign(source, { loop: true, loopStart: from, loopEnd: from + seconds });
        source.start(at, from);
    } else {
        source.start(at, from, seconds);
    }
    const playing = { ...voice, source, gain, level, started: Math.max(at, context.currentTime) - from };
    voices.push(playing);
    source.addEventListener('ended', () => { voices = voices.filter((v) => v !== playing); });

    return playing;
}

/** Lets a voice die away, at once or a little later; `seconds` is how long that takes. */
export function release(voice, later = 0, seconds = RELEASE_SECONDS) {
    silence(voice, audio().currentTime + later, Math.max(RELEASE_SECONDS, seconds));
}

function silence(voice, now, seconds) {
    voices = voices.filter((v) => v !== voice);
    voice.stopped = true;
    voice.gain.gain.setValueAtTime(voice.level, now);
    voice.gain.gain.linearRampToValueAtTime(0, now + seconds);
    voice.source.stop(now + seconds);
}
