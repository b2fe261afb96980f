// A part on keys plays a box while the section goes round, and its own keys do: notes go out for the moment at which they are heard.

import { audio, momentOf, output } from '../audio/context.js';
import { player } from '../audio/player.js';
import { notice } from '../notice.js';
import { onPage, page } from '../page.js';
import { loopFrames, loopTicks } from '../time.js';
import { ask } from '../uploads.js';

const TURN_MS = 40;
/** Notes are sent so far ahead, in seconds. */
const AHEAD = 0.3;

/** What plays: {device, entry, part, notes: of one pass, head: of the beat they are of, until: tick on and on up to which they were sent, node}. */
let plays = null;

export function playsOut(name) {
    return plays?.device.name === name;
}

export async function playOut(device, { entry, part }) {
    stopPlayingOut();
    plays = { device, entry, part, notes: [], head: null, until: null, node: null };
    await read();
    if (plays && device.canSound) {
        await monitor(plays);
    }
}

export function stopPlayingOut() {
    if (plays) {
        plays.device.send([0xb0, 123, 0]);
        if (plays.node) {
            plays.device.listen(false);
            plays.node.disconnect();
        }
        plays = null;
    }
}

/** Its sound goes out with what plays. */
async function monitor(mine) {
    await audio().audioWorklet.addModule('/build/js/worklets/beside.js');
    if (plays === mine) {
        mine.node = new AudioWorkletNode(audio(), 'pestle-beside', { numberOfInputs: 0, outputChannelCount: [2] });
        mine.node.connect(output());
        mine.device.listen(true);
    }
}

/** What the part plays by now. */
async function read() {
    const mine = plays;
    mine.head = page().head;
    try {
        const { notes } = await ask(`/beats/${page().beat}/outside?entry=${mine.entry}&part=${mine.part}`);
        mine.notes = notes.map(([, pitch, velocity, , tick, length]) => ({ pitch, velocity, tick, length }));
    } catch (problem) {
        notice(problem.message, { bad: true });
        stopPlayingOut();
    }
}

function turn() {
    if (!plays || !page() || player.what !== 'loop' || !player.playing || !player.sounds || !player.loop) {
        if (plays) {
            plays.until = null;
        }

        return;
    }
    const { frames, ticks } = player.loop;
    const place = (at) => {
        const frame = player.course.frame(at);
        const pass = Math.floor(frame / frames);

        return pass * ticks + loopTicks(frame - pass * frames, player.loop);
    };
    const now = place(audio().currentTime);
    const to = place(audio().currentTime + AHEAD);
    const from = plays.until === null || plays.until < now - ticks || plays.until > to + ticks ? now : plays.until;
    const when = (tick) => {
        const pass = Math.floor(tick / ticks);

        return momentOf(player.course.when(pass * frames + loopFrames(tick - pass * ticks, player.loop)));
    };
    for (let pass = Math.floor(from / ticks); pass <= Math.floor(to / ticks); pass += 1) {
        for (const note of plays.notes.filter(({ tick }) => tick < ticks && pass * ticks + tick >= from && pass * ticks + tick < to)) {
            const tick = pass * ticks + note.tick;
            plays.device.send([0x90, note.pitch, note.velocity], when(tick));
            plays.device.send([0x80, note.pitch, 0], when(tick + note.length));
        }
    }
    plays.until = Math.max(from, to);
}

document.addEventListener('pestle:sound-beside', ({ detail: { device, frame, samples } }) => {
    if (plays?.device === device) {
        plays.node?.port.postMessage({ frame, samples });
    }
});
document.addEventListener('pestle:device-gone', ({ detail: { device } }) => plays?.device === device && stopPlayingOut());
// Struck keys of the part, by whatever hand.
document.addEventListener('pestle:struck', ({ detail: { source, velocity } }) => {
    if (plays && page()?.part === plays.part && typeof source === 'number') {
        plays.device.send([0x90, source, Math.max(1, Math.min(127, Math.round(velocity)))]);
        setTimeout(() => plays?.device.send([0x80, source, 0]), 300);
    }
});
onPage(() => {
    if (plays && page()?.head !== plays.head) {
        read();
    }
});
setInterval(turn, TURN_MS);
