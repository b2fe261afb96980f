// A track as it is drawn: each clip's wave under its fades, and beside one that is chosen what was cut from it.

import { drawBarLines, laneOn } from '../lane-canvas.js';
import { WaveData } from '../wave/data.js';
import { gainAt, length } from './shaping.js';

export const NAME = 16;
/** Outlines by recording; those that were not drawn for longest go. */
const waves = new Map();
const MOST_WAVES = 60;
let asked = null;

/** Draws all tracks again when more of an outline has come, once a picture of the screen. */
function come() {
    asked ??= requestAnimationFrame(() => {
        asked = null;
        document.querySelectorAll('pestle-track').forEach((track) => track.draw());
    });
}

function wave({ sample, edits, frames }) {
    const key = `${sample}/${edits}/${frames}`;
    const data = waves.get(key) ?? new WaveData(sample, edits, frames, come);
    waves.delete(key);
    waves.set(key, data);
    if (waves.size > MOST_WAVES) {
        waves.delete(waves.keys().next().value);
    }

    return data;
}

/**
 * @param element whose size and colours it has
 * @param what    clips, chosen (ids), bars (ticks), tall (height of a row), shapes (gains of fades), x (of a tick)
 */
export function drawTrack(canvas, element, { clips, chosen, bars, tall, shapes, x }) {
    const lane = laneOn(canvas, element);
    const { pen, width, ink, colour } = lane;
    drawBarLines(lane, bars, x, 0.35);
    for (const clip of clips) {
        const own = { clip, shapes, left: x(clip.at), wide: Math.max(2, x(clip.at + length(clip)) - x(clip.at)), height: tall, isChosen: chosen.has(clip.id), edge: width };
        pen.save();
        pen.translate(0, clip.row * tall);
        tail(pen, own, x(clip.tail), ink);
        ground(pen, own, ink, colour('raised'), colour('ink'));
        pen.fillStyle = ink;
        outline(pen, own);
        fades(pen, own, colour('ink'));
        pen.restore();
    }
    pen.globalAlpha = 1;
}

/** The room that rings on after it, or leads up to it. */
function tail(pen, { clip, left, wide, height }, long, own) {
    if (long > 1) {
        const [from, to] = clip.tailBefore ? [left, left - long] : [left + wide, left + wide + long];
        pen.globalAlpha = clip.muted ? 0.1 : 0.28;
        pen.fillStyle = own;
        pen.beginPath();
        pen.moveTo(from, height * 0.25);
        pen.quadraticCurveTo(from + (to - from) * 0.2, height * 0.55, to, height * 0.6);
        pen.quadraticCurveTo(from + (to - from) * 0.2, height * 0.65, from, height * 0.95);
        pen.fill();
    }
}

function ground(pen, { clip, left, wide, height, isChosen }, own, raised, ink) {
    pen.beginPath();
    pen.roundRect(left + 0.5, 0.5, wide - 1, height - 1, 6);
    pen.globalAlpha = 1;
    pen.fillStyle = raised;
    pen.fill();
    pen.globalAlpha = clip.muted ? 0.06 : 0.16;
    pen.fillStyle = own;
    pen.fill();
    pen.globalAlpha = clip.muted ? 0.5 : 1;
    pen.strokeStyle = isChosen ? ink : own;
    pen.lineWidth = isChosen ? 2 : 1;
    pen.stroke();
}

/** Its wave, as loud as it is heard; of one that is chosen also what lies beyond its ends, faintly. */
function outline(pen, own) {
    const { clip, left, wide, isChosen, edge, height } = own;
    const perPixel = (clip.to - clip.from) / wide;
    const beyond = [clip.from, clip.frames - clip.to];
    const [before, after] = isChosen ? (clip.reversed ? beyond.reverse() : beyond).map((frames) => Math.floor(frames / perPixel)) : [0, 0];
    const first = Math.floor(Math.max(-before, -left));
    const last = Math.ceil(Math.min(wide + after, edge - left));
    if (last <= first) {
        return;
    }
    // Turned round, the first pixel is the last stretch of the recording.
    const from = clip.reversed ? clip.to - last * perPixel : clip.from + first * perPixel;
    const columns = wave(clip).columns(Math.max(0, from), perPixel, last - first);
    if (!columns) {
        return;
    }
    const [middle, half] = [(height + NAME) / 2 - 2, (height - NAME) / 2 - 1];
    for (let i = 0; i < last - first; i += 1) {
        const at = first + i;
        const inside = at >= 0 && at < wide;
        const gain = Math.min(2, gainAt(clip, Math.max(0, Math.min(1, at / wide)), inside ? own.shapes : PLAIN));
        const column = clip.reversed ? last - first - 1 - i : i;
        // What is soft is drawn taller than it is: lanes are low.
        const [low, high] = [columns[2 * column], columns[2 * column + 1]].map((value) => Math.sign(value) * Math.min(1, Math.abs(value) / 127 * gain) ** 0.5);
        pen.globalAlpha = inside ? (clip.muted ? 0.3 : 0.85) : 0.22;
        pen.fillRect(left + at, middle - high * half, 1, Math.max(0.7, (high - low) * half));
    }
}

/** Beyond its ends nothing fades. */
const PLAIN = Object.fromEntries(['straight', 'slow', 'fast', 's'].map((shape) => [shape, [1, 1]]));

function fades(pen, { clip, shapes, left, wide, height, isChosen }, ink) {
    const all = length(clip);
    pen.globalAlpha = clip.muted ? 0.4 : 1;
    pen.strokeStyle = ink;
    pen.lineWidth = 1.2;
    for (const [ticks, begin] of [[clip.in, 0], [clip.out, all - clip.out]]) {
        const [from, to] = [begin, begin + ticks].map((tick) => left + tick / all * wide);
        if (ticks <= 0 || to - from < 2) {
            continue;
        }
        pen.beginPath();
        for (let x = from; x <= to; x += 1) {
            const gain = gainAt(clip, (x - left) / wide, shapes) / clip.gain;
            pen[x === from ? 'moveTo' : 'lineTo'](x, height - 2 - gain * (height - 4));
        }
        pen.stroke();
    }
    if (isChosen && wide > 24) {
        pen.fillStyle = ink;
        for (const at of [clip.in, all - clip.out]) {
            pen.beginPath();
            pen.arc(Math.max(left + 5, Math.min(left + wide - 5, left + at / all * wide)), 5, 3.5, 0, 7);
            pen.fill();
        }
    }
}
