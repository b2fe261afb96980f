// A box that sounds answers a part in real time, and its answer takes the part's place: how late it is, is measured by a first note.

import { momentOf } from '../audio/context.js';
import { openLine } from '../audio/line-in.js';
import { wavOf } from '../audio/wav.js';
import { change } from '../changes.js';
import { comeIn } from '../gather.js';
import { notice } from '../notice.js';
import { page } from '../page.js';
import { pause } from '../pause.js';
import { RATE } from '../time.js';
import { ask } from '../uploads.js';

/** Its noise is listened to before the first note, the first note held, and the part begun after it, in ms. */
const NOISE_MS = 700;
const FIRST_MS = 150;
const BEFORE_MS = 1500;
/** What rings on after the last note is kept for so long. */
const TAIL_MS = 1500;
/** Notes are sent so long before they are due. */
const AHEAD_MS = 500;
const TURN_MS = 50;
const LOUD = 110;

/** What is being recorded: {name, done: 0 to 1, given: whether it was given up}; and what was answered last, by device. */
let at = null;
const answers = new Map();

export function answering(name) {
    return at?.name === name ? at : null;
}

/** The last answer of a device that has noise to be gated: {channel, noiseDb, late}. */
export function lastAnswer(name) {
    return answers.get(name) ?? null;
}

export function giveUp() {
    if (at) {
        at.given = true;
    }
}

/** Listens to a device: gives {blocks, first: moment of their first frame, in ms, close}. */
async function listen(device) {
    const heard = { blocks: [], first: null };
    if (device.canSound) {
        const hear = ({ detail }) => {
            if (detail.device === device) {
                heard.first ??= detail.moment;
                heard.blocks.push([detail.samples, detail.samples]);
            }
        };
        document.addEventListener('pestle:sound-beside', hear);
        device.listen(true);
        heard.close = () => {
            device.listen(false);
            document.removeEventListener('pestle:sound-beside', hear);
        };
    } else {
        const line = await openLine('', ([left, right, frame]) => {
            heard.first ??= momentOf(frame / RATE);
            heard.blocks.push([left, right]);
        });
        line.monitor.gain.value = 0;
        heard.close = () => line.close();
    }

    return heard;
}

/** Sends notes as they are due, so that what is given up ends soon. */
async function play(device, notes, begins, ends) {
    const waiting = [...notes];
    for (let now = performance.now(); now < ends && !at.given; now = performance.now()) {
        while (waiting.length > 0 && begins + 1000 * waiting[0][0] < now + AHEAD_MS) {
            const [from, pitch, velocity, held] = waiting.shift();
            device.send([0x90, pitch, velocity], begins + 1000 * from);
            device.send([0x80, pitch, 0], begins + 1000 * (from + held));
        }
        at.done = Math.max(0, Math.min(1, (now - begins) / (ends - begins)));
        await pause(TURN_MS);
    }
    // What was sent ahead falls silent too: all sound off.
    if (at.given) {
        device.send([0xb0, 120, 0]);
        await pause(AHEAD_MS + TURN_MS);
        device.send([0xb0, 120, 0]);
    }
}

/**
 * Plays a part in one coming of a section to a device, records what it answers and puts that in the part's place.
 *
 * @param {string} entry of the song
 */
export async function recordAnswer(device, entry, part, partName) {
    if (at) {
        notice(`${at.name} is being recorded.`, { bad: true });

        return;
    }
    at = { name: device.name, done: 0, given: false };
    let heard = null;
    try {
        const { at: tick, seconds, channel, notes } = await ask(`/beats/${page().beat}/outside?entry=${entry}&part=${part}`);
        heard = await listen(device);
        const sent = performance.now() + NOISE_MS;
        const begins = sent + BEFORE_MS;
        await play(device, [[-BEFORE_MS / 1000, notes[0][1], LOUD, FIRST_MS / 1000], ...notes], begins, begins + 1000 * seconds + TAIL_MS);
        heard.close();
        if (!at.given) {
            await keep(device, heard, { sent, begins, entry, part, partName, tick, channel });
        }
    } catch (problem) {
        heard?.close();
        notice(problem.message, { bad: true });
    } finally {
        at = null;
    }
}

async function keep(device, { blocks, first }, { sent, begins, entry, part, partName, tick, channel }) {
    if (blocks.length === 0) {
        throw new Error(`Nothing is heard of ${device.name}.`);
    }
    const [sample] = await comeIn([new File([wavOf(blocks)], `${partName} by ${device.name}.wav`, { type: 'audio/wav' })]);
    if (!sample) {
        return;
    }
    const frame = (moment) => Math.round((moment - first) * RATE / 1000);
    const { late, noiseDb } = await ask(`/samples/${sample.hash}/answered?sent=${frame(sent)}`);
    const ms = (1000 * late / RATE).toFixed(1);
    const made = await change({ type: 'fix-part', entry, part, at: tick, sounds: [{ channel, sample: sample.hash, rate: sample.rate, from: frame(begins) + late, frames: sample.frames }] });
    if (made) {
        answers.set(device.name, { channel, noiseDb, late: ms });
        notice(`${device.name} answers ${ms} ms late, which is made up for. Its noise lies at ${noiseDb} dB.`, { seconds: 10 });
    }
}

/** The noise between its notes is gated. */
export async function gateNoise(name) {
    const { channel, noiseDb } = answers.get(name);
    if (await change({ type: 'gate-noise', node: channel, noiseDb })) {
        answers.delete(name);
    }
}
