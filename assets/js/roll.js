// A roll: what is held is struck again and again, on the steps of what plays, or by the tempo alone. Its swing is the pattern's.

import { allHeld, strikeNote, strikePad } from './hands.js';
import { loopTime, onPage, page } from './page.js';
import { player } from './audio/player.js';
import { audio } from './audio/context.js';
import { swung } from './swing.js';
import { bpmAt, loopFrames, loopTicks } from './time.js';

const AHEAD = 0.09;
let on = false;
let ticks = 240;
/** What was struck already: the last moment by the audio clock. */
let until = 0;

export function rolls() {
    return on;
}

export function setRoll(state) {
    on = state;
    for (const button of document.querySelectorAll('[data-roll]')) {
        button.setAttribute('aria-pressed', String(on));
    }
}

export function setRate(length) {
    ticks = length;
}

/** The strikes of the next moments: [by the audio clock, in ticks of the loop or null]. */
function next(from, to) {
    const seconds = 60 / bpmAt(0, loopTime()) / 960;
    const strikes = [];
    if (player.playing && player.what === 'loop' && player.loop) {
        const { frames, ticks: length } = player.loop;
        const gone = Math.max(0, player.course.frame(from));
        const feel = page();
        for (let step = Math.max(0, Math.floor((Math.floor(gone / frames) * length + loopTicks(gone % frames, player.loop)) / ticks) - 1); ; step += 1) {
            const tick = swung(step * ticks, feel);
            const pass = Math.floor(tick / length);
            const at = player.course.when(pass * frames + loopFrames(tick - pass * length, player.loop));
            if (at >= to) {
                break;
            }
            if (at >= from) {
                strikes.push([at, tick - pass * length]);
            }
        }
    } else {
        for (let at = Math.max(from, until + ticks * seconds); at < to; at += ticks * seconds) {
            strikes.push([at, null]);
        }
    }

    return strikes;
}

function goOn() {
    const now = audio().currentTime;
    const holding = allHeld();
    // The strike that began it has sounded.
    until = until === 0 ? now : until;
    const from = Math.max(now + 0.005, until + 0.001);
    for (const [at, tick] of next(from, now + AHEAD)) {
        until = at;
        const lengthTicks = Math.max(60, Math.round(ticks * 0.9));
        const roll = { at, ticks: tick, lengthTicks, seconds: lengthTicks * 60 / bpmAt(tick ?? 0, loopTime()) / 960 };
        for (const { source, velocity, step } of holding) {
            (typeof source === 'number' ? strikeNote : strikePad)(source, velocity, 'roll', performance.now(), roll, step);
        }
    }
}

setInterval(() => {
    if (on && allHeld().length > 0) {
        goOn();
    } else {
        until = 0;
    }
}, 25);

document.addEventListener('click', (event) => {
    if (event.target.closest('[data-roll]')) {
        setRoll(!on);
    }
});
document.addEventListener('change', (event) => {
    if (event.target.matches('[data-roll-rate]')) {
        setRate(Number(event.target.value));
    }
});
onPage(() => setRoll(on));
