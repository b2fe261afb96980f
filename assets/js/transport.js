// The transport edge: play, record, click, tap, position and level.

import { onFrame } from './frames.js';
import { change } from './changes.js';
import { setRange } from './loop-range.js';
import { onPage, page, songTime } from './page.js';
import { player } from './audio/player.js';
import { notice } from './notice.js';
import { audio, fetchSound, heardAt, toBuffer } from './audio/context.js';
import { recorder } from './recorder.js';
import { recording, setRecording, showRecording } from './recording.js';
import { drawLevel } from './meters.js';
import { write } from './write.js';
import { bpmAt, loopFrames, loopTicks, ticksAt } from './time.js';
import { pause } from './pause.js';

const CLICK_AHEAD = 0.12;
let clickOn = false;
let clickedUntil = 0;
let taps = [];

export function toggleClick() {
    clickOn = !clickOn;
    sync();
}

export async function toggleRecord() {
    if (recorder.on) {
        await recorder.stop();
        sync();

        return;
    }
    document.querySelector('input[name=play-what][value=loop]').checked = true;
    // What is recorded goes into patterns of the section.
    setRange(null);
    if (player.playing && player.what === 'song') {
        player.stop();
    }
    player.what = 'loop';
    recorder.start();
    if (!player.playing) {
        await player.play(recording.countIn > 0 ? await countIn() - audio().currentTime - 0.03 : 0);
    }
    sync();
}

/** Bars of clicks, by the tempo of what comes behind them; gives the moment, by the audio clock, at which they are over. */
export async function countIn(bars = recording.countIn, time = null) {
    const { bar, click: each, bpm, time: { loop } } = page() ?? { bar: 3840, click: 960, bpm: 120, time: { loop: [] } };
    const tempo = bpmAt(0, time ?? { bpm, places: loop });
    const seconds = (ticks) => ticks / 960 * 60 / tempo;
    await fetchSound(clickUrl());
    const from = audio().currentTime + 0.05;
    for (let tick = 0; tick < bars * bar; tick += each) {
        click(from + seconds(tick), tick % bar === 0);
    }

    return from + seconds(bars * bar);
}

/** Clicks at moments of the audio clock. */
export async function playClicks(moments) {
    await fetchSound(clickUrl());
    moments.forEach((at, i) => click(at, i === 0));
}

function clickUrl() {
    return `/click/${recording.click}`;
}

async function click(at, accented) {
    const sound = await fetchSound(clickUrl());
    sound.buffer ??= toBuffer(sound.left, sound.right);
    const source = audio().createBufferSource();
    const level = audio().createGain();
    level.gain.value = 10 ** (recording.clickDb / 20);
    source.buffer = sound.buffer;
    source.connect(level).connect(audio().destination);
    const length = sound.buffer.duration / 2;
    source.start(at, accented ? 0 : length, length);
}

/** Clicks of the next moments, on the beats of what plays. */
function scheduleClicks() {
    if (!clickOn || !page() || !player.playing || !player.loop || player.what !== 'loop') {
        return;
    }
    const { bar, click: each } = page();
    const { frames, ticks } = player.loop;
    const now = audio().currentTime;
    const from = Math.max(now, clickedUntil);
    const until = now + CLICK_AHEAD;
    const gone = Math.max(0, player.course.frame(from));
    for (let beat = Math.ceil((Math.floor(gone / frames) * ticks + loopTicks(gone % frames, player.loop)) / each - 1e-6); ; beat += 1) {
        const pass = Math.floor(beat * each / ticks);
        const at = player.course.when(pass * frames + loopFrames(beat * each - pass * ticks, player.loop));
        if (at >= until) {
            break;
        }
        click(at, Math.round(beat * each % player.loop.ticks) % bar === 0);
    }
    clickedUntil = until;
}
// By a timer of its own: pictures may be rare.
setInterval(scheduleClicks, 1000 * CLICK_AHEAD / 3);

const MEASURE_CLICKS = 8;
const MEASURE_SECONDS = 0.6;
/** While it is measured: moments of the clicks, and of taps, by the audio clock. */
let measured = null;

/** How late what is played arrives: eight clicks, tapped along with by Space or a pad; the middle of what was tapped counts. */
async function measure(button) {
    await fetchSound(clickUrl());
    const from = audio().currentTime + 0.6;
    measured = { clicks: Array.from({ length: MEASURE_CLICKS }, (_, i) => from + i * MEASURE_SECONDS), taps: [] };
    measured.clicks.forEach((at, i) => click(at, i === 0));
    button.textContent = 'Tap along …';
    await pause(1000 * (0.9 + MEASURE_CLICKS * MEASURE_SECONDS));
    button.textContent = 'Measure';
    const off = measured.taps.map((tap) => tap - measured.clicks.reduce((best, at) => (Math.abs(at - tap) < Math.abs(best - tap) ? at : best))).sort((a, b) => a - b);
    measured = null;
    if (off.length < MEASURE_CLICKS / 2) {
        notice(`Only ${off.length} of ${MEASURE_CLICKS} clicks were tapped. Press Measure, then tap Space or a pad with every click.`, { bad: true });

        return;
    }
    const ms = Math.round(1000 * off[Math.floor(off.length / 2)]);
    const spread = Math.round(1000 * (off.at(-1) - off[0]) / 2);
    setRecording('latency', ms);
    notice(`What you play arrives ${ms} ms late, give or take ${spread} ms. It is recorded that much earlier from now on.`, { seconds: 10 });
}

/** A tap along, while it is measured; gives whether it was one. */
export function tapAlong(moment) {
    measured?.taps.push(heardAt(moment));

    return measured !== null;
}

export function toggleErase() {
    recorder.erasing = !recorder.erasing;
    sync();
    notice(recorder.erasing ? 'Erase is on: hold a pad while it plays, and what it plays is taken out. G ends it.' : 'Erase is off.', { seconds: 5 });
}

function tap() {
    const now = performance.now();
    taps = taps.filter((t) => now - t < 8000 && (taps.length === 0 || now - taps.at(-1) < 2500));
    taps.push(now);
    if (taps.length >= 4) {
        const bpm = 60000 * (taps.length - 1) / (taps.at(-1) - taps[0]);
        change({ type: 'set-tempo', bpm: Math.min(300, Math.max(30, Math.round(bpm * 2) / 2)) });
        taps = taps.slice(-1);
    } else {
        document.querySelector('[data-tap]').textContent = `Tap ${4 - taps.length}`;
        setTimeout(() => { const b = document.querySelector('[data-tap]'); if (b) { b.textContent = 'Tap'; } }, 2500);
    }
}

/** Shows the transport's state on a page that may be new. */
function sync() {
    const play = document.querySelector('[data-start-stop]');
    if (!play) {
        return;
    }
    play.setAttribute('aria-pressed', String(player.playing));
    play.setAttribute('aria-label', player.playing ? 'Stop' : 'Play');
    play.toggleAttribute('data-busy', player.playing && player.busy);
    document.querySelector('[data-record]').setAttribute('aria-pressed', String(recorder.on));
    document.querySelector('[data-click]').setAttribute('aria-pressed', String(clickOn));
    document.querySelector('[data-erase]').setAttribute('aria-pressed', String(recorder.erasing));
    showRecording();
    document.querySelector(`input[name=play-what][value=${player.what}]`).checked = true;
}

function positionText(ticks) {
    const { bar, click: each } = page();
    const t = Math.max(0, Math.floor(ticks));

    return `${Math.floor(t / bar) + 1}.${Math.floor(t % bar / each) + 1}.${Math.floor(t % bar % each / 240) + 1}`;
}

/** Where the song is: ticks from its start, and the entry that plays: its place, how often it was played, and bars until the next. */
export function songPlace() {
    const { song } = page();
    const ticks = ticksAt(player.position(), songTime());
    let from = 0;
    for (const [index, entry] of song.entries()) {
        const until = from + entry.repeats * entry.ticks;
        if (ticks < until) {
            return { ticks, entry, index, repeat: Math.floor((ticks - from) / entry.ticks) + 1, inside: (ticks - from) % entry.ticks / entry.ticks, bars: Math.ceil((until - ticks) / entry.bar), next: song.slice(index + 1).find((later) => later.ticks > 0) };
        }
        from = until;
    }

    return { ticks, entry: null, index: -1 };
}

function frame() {
    const label = document.getElementById('position');
    if (label) {
        if (player.playing && player.what === 'song') {
            write(label, positionText(songPlace().ticks));
        } else {
            const ticks = player.playing ? player.ticks() : 0;
            recorder.follow(ticks);
            write(label, ticks < 0 ? `−${Math.ceil(-ticks / 960)}` : positionText(ticks));
        }
        drawLevel(player.meters());
    }
}

document.addEventListener('click', (event) => {
    const is = (name) => event.target.closest(`[data-${name}]`);
    if (is('start-stop')) {
        player.toggle();
    } else if (is('record')) {
        toggleRecord();
    } else if (is('click')) {
        toggleClick();
    } else if (is('erase')) {
        toggleErase();
    } else if (is('keep')) {
        recorder.keep();
    } else if (is('take-back')) {
        recorder.takeBack();
    } else if (is('rec-measure')) {
        measure(is('rec-measure'));
    } else if (is('tap')) {
        tap();
    }
});

document.addEventListener('change', (event) => {
    if (event.target.name === 'play-what') {
        const again = player.playing;
        if (again) {
            player.stop();
        }
        player.what = event.target.value;
        if (again) {
            player.play();
        }
    }
});

player.addEventListener('state', () => {
    if (!player.playing && recorder.on) {
        recorder.stop();
    }
    sync();
});

onPage(() => {
    sync();
    player.endPreview();
    if (page()) {
        player.renew();
    } else if (player.playing) {
        player.stop();
    }
});
onFrame(frame);
