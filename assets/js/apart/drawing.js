// How a recording taken apart looks: its parts one under another, hatched where they are not there yet, and what plays.

import { colour } from '../meters.js';
import { columns } from './columns.js';
import { PARTS } from './playing.js';

export const PART_COLOURS = { drums: 'tide', bass: 'plum', melody: 'basil', voice: 'paprika' };
const GAP = 10;
const HATCH = 9;

function hatch(context, x, y, width, height) {
    context.save();
    context.beginPath();
    context.rect(x, y, width, height);
    context.clip();
    context.strokeStyle = colour('line');
    context.beginPath();
    for (let at = x - height; at < x + width; at += HATCH) {
        context.moveTo(at, y + height);
        context.lineTo(at + height, y);
    }
    context.stroke();
    context.restore();
}

/** What the largest value of all parts is drawn as: soft recordings fill their rows too. */
function loudest(outlines) {
    return PARTS.reduce((most, part) => outlines[part].reduce((a, b) => Math.max(a, b), most), 16);
}

/** @param view {frames, done, count, outlines, on, frame, cursor}: count stretches in all, outlines by part, bytes */
export function drawParts(canvas, view) {
    const scale = devicePixelRatio;
    const [width, height] = [canvas.clientWidth, canvas.clientHeight];
    if (width < 20 || height < 80) {
        return;
    }
    canvas.width = width * scale;
    canvas.height = height * scale;
    const context = canvas.getContext('2d');
    context.scale(scale, scale);
    const tall = (height - GAP * (PARTS.length - 1)) / PARTS.length;
    const most = loudest(view.outlines);
    const done = Math.round(width * view.done / view.frames);
    PARTS.forEach((part, i) => {
        const top = i * (tall + GAP);
        context.globalAlpha = view.on[part] ? 1 : 0.35;
        context.fillStyle = colour('sunk');
        context.beginPath();
        context.roundRect(0, top, width, tall, 8);
        context.fill();
        if (done < width) {
            hatch(context, done, top, width - done, tall);
        }
        context.fillStyle = colour(PART_COLOURS[part]);
        columns(view.outlines[part], width, view.count).forEach((value, x) => {
            const half = Math.max(0.5, value / most * (tall / 2 - 4));
            if (x < done) {
                context.fillRect(x, top + tall / 2 - half, 1, 2 * half);
            }
        });
        context.globalAlpha = 1;
        const name = part[0].toUpperCase() + part.slice(1) + (view.on[part] ? '' : ', off');
        context.font = '600 13px Atkinson, sans-serif';
        const wide = context.measureText(name).width + 14;
        context.fillStyle = colour('raised');
        context.beginPath();
        context.roundRect(8, top + 7, wide, 21, 6);
        context.fill();
        context.fillStyle = colour('ink');
        context.fillText(name, 15, top + 22);
    });
    const line = (frame, name, thick) => {
        context.fillStyle = colour(name);
        context.fillRect(Math.round(frame / view.frames * width) - thick / 2, 0, thick, height);
    };
    line(view.cursor, 'ink', 1);
    if (view.frame !== null) {
        line(view.frame, 'turmeric', 2);
    }
}
