// Pestle runs in time with a clock: it comes in on the clock's next downbeat, stops with it, and goes a little faster or slower
// as the clock does. At another tempo it is worked out anew, so that what wavers is little.

import { audio, heardAt } from '../audio/context.js';
import { player } from '../audio/player.js';
import { loopOf } from '../loop-range.js';
import { notice } from '../notice.js';
import { otherTempo, page, setOtherTempo } from '../page.js';
import { Pulses } from './pulses.js';
import { allDevices, onDevices } from './devices.js';

const STEER_MS = 60;
/** So long before a downbeat, in ms, it must be known that it is joined. */
const JOIN_MS = 500;
const MOST_JOIN_MS = 6000;
/** What is off is made up for within about so many seconds; by no more than this share of the tempo. */
const WITHIN = 0.4;
const MOST = 0.04;
/** What is further off, in seconds, comes in anew. */
const LOST = 0.35;
/** Another tempo by so much is worked out anew, but not so soon after the last one, in ms. */
const ANEW = 0.011;
const ANEW_MS = 1200;

/** Clocks that were heard, by device: what was said before one is followed counts. */
const clocks = new Map();
/** What is followed: {device, joined: whether it plays by it, joining, off: seconds it is behind, anew: moment of the last tempo, away}. */
let followed = null;

export function clockOf(device) {
    if (!clocks.has(device.name)) {
        clocks.set(device.name, new Pulses());
    }

    return clocks.get(device.name);
}

document.addEventListener('pestle:clock', ({ detail: { device, bytes, moment } }) => {
    const clock = clockOf(device);
    clock.take(bytes, moment);
    if (followed?.device.name === device.name && bytes[0] === 0xfa && followed.joined) {
        // It began anew: so does what plays, with its next downbeat.
        followed.joined = false;
    }
    if (followed?.device.name === device.name && bytes[0] === 0xfc) {
        leave();
    }
});

document.addEventListener('pestle:device-gone', ({ detail: { device } }) => {
    if (followed?.device.name === device.name) {
        playOn(`${device.name} is gone.`);
    }
});

onDevices('following', () => {
    const back = followed?.away && allDevices().find(({ name }) => name === followed.device.name);
    if (back) {
        clocks.delete(back.name);
        followed.device = back;
    }
});

export function follows(name) {
    return followed?.device.name === name;
}

export function follow(device) {
    stopFollowing();
    // Its clock runs from now on, and is known when it is needed.
    audio();
    followed = { device, joined: false, joining: false, off: 0, anew: 0, away: false, lead: JOIN_MS };
}

export function stopFollowing() {
    if (followed) {
        const { joined } = followed;
        followed = null;
        ownTempo(joined);
    }
}

/** Back to the beat's own tempo, as it is heard. */
function ownTempo(sounds) {
    setOtherTempo(null);
    if (sounds) {
        player.release();
    }
}

/** It stops with the clock. */
function leave() {
    if (followed.joined) {
        followed.joined = false;
        player.stop();
    }
}

/** The clock is away: it is told once, and what plays goes on as fast as it went. */
function playOn(why) {
    if (!followed.away) {
        followed.away = true;
        notice(`${why}${followed.joined ? ' Pestle plays on as fast as it went.' : ''}`, { bad: true, seconds: 8 });
    }
}

/** The tempo in which it is worked out for a clock: the beat's own where that is near, else a whole one. */
function tempoFor(bpm) {
    const own = page().bpm;

    return Math.abs(bpm / own - 1) < ANEW && page().time.song.length < 2 ? null : Math.round(bpm);
}

async function join(clock) {
    const mine = followed;
    mine.joining = true;
    try {
        setOtherTempo(tempoFor(clock.steadyBpm));
        const { bar } = page();
        const tick = Math.max(0, Math.ceil(clock.ticks(performance.now() + mine.lead) / bar - 1e-6)) * bar;
        const when = heardAt(clock.moment(tick));
        await player.join({ when, tick });
        if (followed !== mine) {
            return;
        }
        // What came too late begins in the midst of a bar; the next time it is begun sooner.
        const late = 1000 * (audio().currentTime - when);
        mine.lead = late > 0 ? Math.min(MOST_JOIN_MS, mine.lead + late + JOIN_MS) : mine.lead;
        Object.assign(mine, { joined: player.playing, anew: performance.now(), loop: loopOf(page()), what: player.what });
    } finally {
        mine.joining = false;
    }
}

function steer() {
    if (!followed || !page() || followed.joining) {
        return;
    }
    const now = performance.now();
    const clock = clockOf(followed.device);
    if (clock.isAway(now)) {
        playOn(`${followed.device.name} sends no pulses any more.`);
        if (!player.playing) {
            // What went on by itself was stopped: the beat has its own tempo again.
            stopFollowing();
        }

        return;
    }
    followed.away = false;
    if (!clock.runs || !clock.placed || !clock.isKnown) {
        return;
    }
    if (followed.joined && !player.playing) {
        // Stopped by hand: it waits for the clock's next start.
        followed.joined = false;
        clock.runs = false;

        return;
    }
    if (!followed.joined || followed.what !== player.what || (player.what === 'loop' && followed.loop !== loopOf(page()))) {
        // At first, or something else goes round by now: from the next downbeat on.
        join(clock);

        return;
    }
    keepUp(clock, now);
}

function keepUp(clock, now) {
    const heard = player.heard(heardAt(now));
    if (!heard) {
        return;
    }
    const length = player.what === 'song' ? Infinity : player.loop?.ticks ?? Infinity;
    let off = clock.ticks(now) - heard.ticks;
    off = Number.isFinite(length) ? off - Math.round(off / length) * length : off;
    followed.off = off / 16 / clock.bpm;
    if (heard.ticks < 0) {
        return;
    }
    if (Math.abs(followed.off) > LOST) {
        followed.joined = false;

        return;
    }
    const rate = clock.bpm / heard.bpm * (1 + Math.max(-MOST, Math.min(MOST, followed.off / WITHIN)));
    player.turn(audio().currentTime + 0.02, rate);
    if (Math.abs(clock.steadyBpm / (otherTempo() ?? page().bpm) - 1) > ANEW && now - followed.anew > ANEW_MS) {
        followed.anew = now;
        setOtherTempo(tempoFor(clock.steadyBpm));
        player.refresh();
    }
}

/** How it goes: {bpm, seconds behind, quarters behind, how: "waits", "plays" or "away"}. */
export function followingNow() {
    if (!followed) {
        return null;
    }
    const clock = clockOf(followed.device);

    return { name: followed.device.name, bpm: clock.isKnown ? clock.bpm : null, ticks: clock.ticks(performance.now()), off: followed.off, quarters: followed.off * (clock.isKnown ? clock.bpm : 0) / 60, how: followed.away ? 'away' : followed.joined && clock.placed ? 'plays' : 'waits' };
}

setInterval(steer, STEER_MS);
