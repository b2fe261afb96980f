// A movement's lane as it is drawn: where it is heard, its bars, its curve, and for the chosen one its points and scale.

import { shareOf, valueAt } from '../curve.js';
import { drawBarLines, laneOn } from '../lane-canvas.js';

/**
 * @param element whose size and colours it has
 * @param what    lane, points, chosen (numbers of points), frame (to choose by, or null), bars (ticks), x and y (of a tick and a value)
 */
export function drawMoves(canvas, element, { lane, points, chosen, frame, bars, x, y }) {
    const ground = laneOn(canvas, element);
    const { pen, width, height, ink, colour } = ground;
    const own = colour(lane.colour) || ink;
    const isChosen = 'chosen' in element.dataset;
    pen.fillStyle = colour('sunk');
    pen.globalAlpha = isChosen ? 0.9 : 0.55;
    for (const [from, ticks] of lane.spans) {
        pen.fillRect(x(from), 1, x(ticks), height - 2);
    }
    drawBarLines(ground, bars, x, 0.45);
    pen.globalAlpha = lane.on ? 1 : 0.4;
    pen.strokeStyle = own;
    for (const span of lane.spans) {
        curve(pen, points, span, x, y);
    }
    // Where one that lies further in is heard, this one is not.
    pen.fillStyle = colour('raised');
    pen.globalAlpha = 0.7;
    for (const [from, ticks] of lane.hidden) {
        pen.fillRect(x(from), 0, x(ticks), height);
    }
    pen.globalAlpha = 1;
    if (frame) {
        pen.strokeStyle = colour('turmeric');
        pen.strokeRect(frame.x, frame.y, frame.width, frame.height);
    }
    if (isChosen && lane.spans.length > 0) {
        scale(pen, lane, colour('quiet'), width, height);
        const [from] = lane.spans[0];
        points.forEach(([tick, value], i) => handle(pen, x(from + tick), y(value), own, chosen.has(i) ? colour('turmeric') : colour('raised')));
    }
}

/** Several lanes over one another, each by its own scale. */
export function drawFold(canvas, element, lanes, bars, x) {
    const ground = laneOn(canvas, element);
    const { pen, height, colour } = ground;
    drawBarLines(ground, bars, x, 0.45);
    const shades = ['tide', 'plum', 'basil', 'paprika', 'clay', 'turmeric'];
    lanes.forEach((lane, i) => {
        pen.globalAlpha = lane.on ? 0.9 : 0.3;
        pen.strokeStyle = colour(shades[i % shades.length]);
        lane.spans.forEach((span) => curve(pen, lane.points, span, x, (value) => 5 + (1 - shareOf(lane, value)) * (height - 10)));
    });
    pen.globalAlpha = 1;
}

function curve(pen, points, [from, ticks], x, y) {
    pen.lineWidth = 1.8;
    pen.beginPath();
    const [first, last] = [x(from), x(from + ticks)];
    for (let at = first; at <= last; at += 1) {
        pen[at === first ? 'moveTo' : 'lineTo'](at, y(valueAt(points, (at - first) / Math.max(1, last - first) * ticks)));
    }
    pen.stroke();
}

function scale(pen, { least, most, unit }, colour, width, height) {
    pen.fillStyle = colour;
    pen.font = '12px JetBrains';
    pen.textAlign = 'right';
    pen.fillText(`${Number(most.toPrecision(4))} ${unit}`, width - 4, 14);
    pen.fillText(`${Number(least.toPrecision(4))} ${unit}`, width - 4, height - 6);
}

function handle(pen, x, y, own, fill) {
    pen.beginPath();
    pen.arc(x, y, 4.5, 0, 7);
    pen.fillStyle = fill;
    pen.fill();
    pen.lineWidth = 1.6;
    pen.strokeStyle = own;
    pen.stroke();
}
