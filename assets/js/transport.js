// The transport edge: play, record, click, tap, position and level.

import { change } from './changes.js';
import { onPage, page } from './page.js';
import { player } from './audio/player.js';
import { audio, fetchSound, RATE, toBuffer } from './audio/context.js';
import { recorder } from './recorder.js';
import { drawLevel } from './meters.js';

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
    if (player.playing && player.what === 'song') {
        player.stop();
    }
    player.what = 'loop';
    recorder.start();
    if (!player.playing) {
        await player.play(await countIn() - audio().currentTime - 0.03);
    }
    sync();
}

/** One bar of clicks; gives the moment, by the audio clock, at which it is over. */
export async function countIn() {
    const bar = 240 / page().bpm;
    await fetchSound('/click');
    const from = audio().currentTime + 0.05;
    for (let beat = 0; beat < 4; beat += 1) {
        click(from + beat * bar / 4, beat === 0);
    }

    return from + bar;
}

async function click(at, accented) {
    const sound = await fetchSound('/click');
    sound.buffer ??= toBuffer(sound.left, sound.right);
    const source = audio().createBufferSource();
    source.buffer = sound.buffer;
    source.connect(audio().destination);
    const length = sound.buffer.duration / 2;
    source.start(at, accented ? 0 : length, length);
}

/** Clicks of the next moments, on the beats of what plays. */
function scheduleClicks() {
    if (!clickOn || !player.playing || !player.loop || player.what !== 'loop') {
        return;
    }
    const frames = player.loop.frames / (player.loop.ticks / 960);
    const now = audio().currentTime;
    const from = Math.max(now, clickedUntil);
    const until = now + CLICK_AHEAD;
    for (let beat = Math.max(0, Math.ceil((from * RATE - player.origin) / frames)); ; beat += 1) {
        const at = (player.origin + beat * frames) / RATE;
        if (at >= until) {
            break;
        }
        click(at, Math.round(beat % (player.loop.ticks / 960)) % 4 === 0);
    }
    clickedUntil = until;
}

function tap() {
    const now = performance.now();
    taps = taps.filter((t) => now - t < 8000 && (taps.length === 0 || now - taps.at(-1) < 2500));
    taps.push(now);
    if (taps.length >= 4) {
        const bpm = 60000 * (taps.length - 1) / (taps.at(-1) - taps[0]);
        change({ type: 'set-tempo', bpm: Math.min(300, Math.max(20, Math.round(bpm * 2) / 2)) });
        taps = taps.slice(-1);
    } else {
        document.querySelector('[data-tap]').textContent = `Tap ${4 - taps.length}`;
        setTimeout(() => { const b = document.querySelector('[data-tap]'); if (b) { b.textContent = 'Tap'; } }, 2500);
    }
}

/** Shows the transport's state on a page that may be new. */
function sync() {
    const play = document.querySelector('[data-play]');
    if (!play) {
        return;
    }
    play.setAttribute('aria-pressed', String(player.playing));
    play.setAttribute('aria-label', player.playing ? 'Stop' : 'Play');
    play.toggleAttribute('data-busy', player.playing && player.busy);
    document.querySelector('[data-record]').setAttribute('aria-pressed', String(recorder.on));
    document.querySelector('[data-click]').setAttribute('aria-pressed', String(clickOn));
    document.querySelector('[data-quantise]').setAttribute('aria-pressed', String(recorder.quantise));
    document.querySelector(`input[name=play-what][value=${player.what}]`).checked = true;
}

function positionText(ticks) {
    const t = Math.max(0, Math.floor(ticks));

    return `${Math.floor(t / 3840) + 1}.${Math.floor(t % 3840 / 960) + 1}.${Math.floor(t % 960 / 240) + 1}`;
}

/** Where the whole beat is: ticks from its start, and which part plays. */
function songPlace() {
    const { order, patternTicks, bpm } = page();
    const ticks = player.position() / RATE * bpm * 16;
    let from = 0;
    for (const [index, part] of order.entries()) {
        from += part.repeats * patternTicks[part.pattern];
        if (ticks < from) {
            return { ticks, index };
        }
    }

    return { ticks, index: -1 };
}

function frame() {
    const label = document.getElementById('position');
    if (label) {
        if (player.playing && player.what === 'song') {
            const { ticks, index } = songPlace();
            label.textContent = positionText(ticks);
            for (const part of document.querySelectorAll('[data-part]')) {
                part.toggleAttribute('data-playing', Number(part.dataset.part) === index);
            }
        } else {
            const ticks = player.playing ? player.ticks() : 0;
            recorder.follow(ticks);
            label.textContent = ticks < 0 ? `−${Math.ceil(-ticks / 960)}` : positionText(ticks);
        }
        drawLevel(player.meters());
        scheduleClicks();
    }
    requestAnimationFrame(frame);
}

document.addEventListener('click', (event) => {
    const is = (name) => event.target.closest(`[data-${name}]`);
    if (is('play')) {
        player.toggle();
    } else if (is('record')) {
        toggleRecord();
    } else if (is('click')) {
        toggleClick();
    } else if (is('quantise')) {
        recorder.quantise = !recorder.quantise;
        sync();
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
        // Fetched before it is wanted, so that Space is heard at once.
        player.refresh();
    } else if (player.playing) {
        player.stop();
    }
});
requestAnimationFrame(frame);
