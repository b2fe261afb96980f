// Recording from a microphone or line: armed it listens and shows its level, recording it keeps what comes,
// with half a second from before the start; what was kept arrives like a dropped file.

import { audio, RATE } from './audio/context.js';
import { openLine } from './audio/line-in.js';
import { player } from './audio/player.js';
import { wavOf } from './audio/wav.js';
import { change } from './changes.js';
import { take } from './gather.js';
import { isOver, keepTake, playAlong, roundTrip } from './line-recording.js';
import { delayOf } from './loopback.js';
import { countIn, playClicks } from './transport.js';
import { onPage } from './page.js';
import { notice } from './notice.js';
import { pause } from './pause.js';

const PRE_ROLL_BLOCKS = Math.ceil(0.5 * RATE / 128);
const MOST_SECONDS = 1800;
const HOLD_SECONDS = 1.5;
/** On the way in: rendered by PHP on arrival, over the dry recording. */
const COLOURS = {
    converter: { kind: 'converter', bits: 12, rate: 26000, filters: 1 },
    rough: { kind: 'converter', bits: 8, rate: 12000, filters: 0 },
    loud: { kind: 'normalise', measure: 'peak', db: -1 },
};

let input = null;

/** @typedef the open input: {gain, monitor, close, ring, kept, peak, held, heldUntil} */
async function arm(device) {
    disarm();
    input = { ...await openLine(device, heard), ring: [], kept: null, peak: 0, held: 0, heldUntil: 0 };
    level();
    draw();
}

/** Gain and monitor as the panel says. */
function level() {
    const panel = document.querySelector('[data-mic]');
    if (!panel) {
        return;
    }
    const gain = panel.querySelector('[name=mic-gain]').value;
    input.gain.gain.value = 10 ** (gain / 20);
    input.monitor.gain.value = Number(panel.querySelector('[name=monitor]').checked);
    document.getElementById('m-gain-value').textContent = gain;
}

function disarm() {
    if (input) {
        input.close();
        input = null;
    }
}

function heard(block) {
    if (!input) {
        return;
    }
    for (const side of block.slice(0, 2)) {
        for (const x of side) {
            input.peak = Math.max(input.peak, Math.abs(x));
        }
    }
    if (input.kept) {
        input.kept.push(block);
        if (input.kept.length * 128 > MOST_SECONDS * RATE || (isOnLine() && isOver())) {
            stop();
        }
    } else {
        input.ring.push(block);
        if (input.ring.length > PRE_ROLL_BLOCKS) {
            input.ring.shift();
        }
    }
}

/** Whether what is recorded goes onto the line of time. */
function isOnLine() {
    return Boolean(document.querySelector('[data-mic][data-on-line]'));
}

async function start() {
    const options = choices();
    if (isOnLine()) {
        // From the press on: however long the song takes to begin, nothing of its start is missed.
        input.kept = [...input.ring];
        draw();
        await playAlong(options.count);

        return;
    }
    const at = options.count ? await countIn() : audio().currentTime;
    if (options.beat && !player.playing) {
        player.play(Math.max(0, at - audio().currentTime - 0.03));
    }
    await pause(1000 * (at - audio().currentTime));
    if (input) {
        input.kept = [...input.ring];
        draw();
    }
}

async function stop() {
    const blocks = input?.kept ?? [];
    const options = choices();
    if (input) {
        input.kept = null;
        input.ring = [];
    }
    draw();
    if (isOnLine() && blocks.length > 0) {
        await keepTake(wavOf(blocks), blocks[0][2], blocks.length * 128, options.name);

        return;
    }
    if (options.beat && player.playing) {
        player.stop();
    }
    if (blocks.length === 0) {
        return;
    }
    const name = `${options.name || 'Recording'}.wav`;
    const [sample] = await take([new File([wavOf(blocks)], name, { type: 'audio/wav' })]) ?? [];
    if (sample) {
        await finish(sample, options);
    }
}

/** Trims the silence around it and lays the chosen colour over it; both are edits, the dry take stays. */
async function finish(sample, options) {
    const edits = [];
    if (options.trim) {
        const { from, to } = await (await fetch(`/samples/${sample.hash}/sounding`)).json();
        if (to > from && (from > 0 || to < sample.frames)) {
            edits.push({ kind: 'keep', from, to });
        }
    }
    if (COLOURS[options.colour]) {
        edits.push(COLOURS[options.colour]);
    }
    if (edits.length > 0) {
        await change({ type: 'set-edits', sample: sample.hash, frames: sample.frames, edits });
        notice(`${sample.name} is in the library${options.trim ? ', trimmed' : ''}; the take itself is kept as it was.`);
    }
}

const LOOP_CLICKS = 5;
const LOOP_EVERY = 0.6;

/** How late a click comes back: the microphone hears the loudspeaker, or a cable leads from the output to the input. */
async function measureLoop(button) {
    button.disabled = true;
    const from = audio().currentTime + 0.4;
    const clicks = Array.from({ length: LOOP_CLICKS }, (_, i) => from + i * LOOP_EVERY);
    await playClicks(clicks);
    input.kept = [];
    await pause(1000 * (0.9 + LOOP_CLICKS * LOOP_EVERY));
    const blocks = input?.kept ?? [];
    if (input) {
        input.kept = null;
    }
    button.disabled = false;
    const sound = new Float32Array(blocks.length * 128);
    blocks.forEach(([left], i) => sound.set(left, i * 128));
    const delay = blocks.length > 0 ? delayOf(sound, blocks[0][2], clicks.map((at) => at * RATE), RATE) : null;
    if (delay === null) {
        notice('The clicks did not come back clearly. Turn the loudspeaker up and hold the microphone to it, or lead a cable from the output to the input.', { bad: true });
    } else {
        const ms = Math.round(1e4 * delay / RATE) / 10;
        localStorage.setItem('pestle-loopback', ms);
        notice(`What is played is back after ${ms} ms. Recordings over the song are put that much earlier from now on.`, { seconds: 10 });
    }
    draw();
}

function field(name) {
    return document.querySelector(`[data-mic] [name=${name}]`);
}

function choices() {
    const is = (name) => field(name)?.checked ?? false;

    return { name: field('take-name')?.value.trim(), count: is('count'), beat: is('beat'), trim: is('trim'), colour: field('colour')?.value };
}

function say(text) {
    const label = document.getElementById('mic-state');
    if (label) {
        label.textContent = text;
    }
}

function draw() {
    const panel = document.querySelector('[data-mic]');
    if (!panel) {
        return;
    }
    panel.querySelector('.mic-armed').hidden = !input;
    panel.querySelector('[data-mic-arm]').hidden = Boolean(input);
    const button = panel.querySelector('[data-mic-record]');
    button.textContent = input?.kept ? 'Stop' : 'Record';
    button.setAttribute('aria-pressed', String(Boolean(input?.kept)));
    const late = panel.querySelector('[data-loop-ms]');
    if (late) {
        late.textContent = `${Math.round(roundTrip() * 1e4) / 10} ms${localStorage.getItem('pestle-loopback') === null ? ', as the browser says' : ', measured'}`;
    }
    meter();
}

function meter() {
    const canvas = document.getElementById('mic-level');
    if (!canvas || !input) {
        return;
    }
    const now = performance.now() / 1000;
    if (input.peak >= input.held || now > input.heldUntil) {
        [input.held, input.heldUntil] = [input.peak, now + HOLD_SECONDS];
    }
    const width = (peak) => Math.max(0, 1 + 20 * Math.log10(Math.max(peak, 1e-6)) / 60) * canvas.width;
    const pen = canvas.getContext('2d');
    const style = getComputedStyle(document.documentElement);
    pen.fillStyle = style.getPropertyValue('--sunk');
    pen.fillRect(0, 0, canvas.width, canvas.height);
    pen.fillStyle = style.getPropertyValue(input.peak > 0.98 ? '--paprika' : '--basil');
    pen.fillRect(0, 0, width(input.peak), canvas.height);
    pen.fillStyle = style.getPropertyValue('--ink');
    pen.fillRect(width(input.held) - 2, 0, 2, canvas.height);
    const db = 20 * Math.log10(Math.max(input.held, 1e-6));
    say(input.kept ? `recording ${(input.kept.length * 128 / RATE).toFixed(1)} s` : `peak ${db <= -100 ? '–∞' : db.toFixed(1)} dB`);
    input.peak *= 0.85;
    requestAnimationFrame(meter);
}

async function listDevices() {
    const select = field('device');
    if (select && select.options.length <= 1) {
        const devices = (await navigator.mediaDevices.enumerateDevices()).filter((d) => d.kind === 'audioinput');
        select.replaceChildren(...devices.map((d, i) => new Option(d.label || `Input ${i + 1}`, d.deviceId)));
    }
}

document.addEventListener('click', async (event) => {
    if (event.target.closest('[data-mic-arm]')) {
        try {
            await arm();
            await listDevices();
        } catch {
            notice('No microphone could be opened. Connect one and allow this page to use it, or drop a file instead.', { bad: true });
        }
    } else if (event.target.closest('[data-mic-record]')) {
        await (input?.kept ? stop() : start());
    } else if (event.target.closest('[data-mic-loop]') && input) {
        measureLoop(event.target.closest('[data-mic-loop]'));
    } else if (event.target.closest('[data-mic-close]')) {
        disarm();
        draw();
    }
});

document.addEventListener('change', (event) => {
    if (event.target.name === 'device' && event.target.closest('[data-mic]')) {
        arm(event.target.value).catch(() => notice('This input could not be opened.', { bad: true }));
    }
});
document.addEventListener('input', (event) => {
    if (event.target.closest('[data-mic]') && input) {
        level();
    }
});
onPage(() => {
    if (document.querySelector('[data-mic]')) {
        draw();
    } else if (input && !input.kept) {
        disarm();
    }
});
