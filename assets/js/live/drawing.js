// A performance on one strip: behind the line it is written, ahead of it all is free still.

import { colour } from '../meters.js';

const NAMES = 116;
const BARS = 16;
/** How much of the strip lies behind what plays. */
const BEHIND = 0.55;
const RULER = 22;
const GAP = 10;

function row(context, { spans }, part, box, x, now) {
    spans.forEach((span, i) => {
        const from = Math.max(NAMES, x(span.from));
        const until = Math.min(box.width, spans[i + 1] ? x(spans[i + 1].from) : box.width);
        if (until <= from || (span.pattern === null && span.from <= now)) {
            return;
        }
        const line = x(now);
        context.fillStyle = colour(part.colour);
        context.strokeStyle = colour(part.colour);
        const shape = (a, b) => { context.beginPath(); context.roundRect(a + 1, box.top, Math.max(2, b - a - 2), box.tall, 8); };
        if (span.pattern !== null && from < line) {
            shape(from, Math.min(until, line));
            context.globalAlpha = span.muted ? 0.15 : 0.45;
            context.fill();
        }
        if (until > line) {
            shape(Math.max(from, line), until);
            context.globalAlpha = span.pattern === null || span.muted ? 0.35 : 0.9;
            context.setLineDash([4, 4]);
            context.stroke();
            context.setLineDash([]);
        }
        context.globalAlpha = 1;
        context.fillStyle = colour('ink');
        context.save();
        shape(from, until);
        context.clip();
        context.fillText((span.pattern === null ? 'nothing' : span.name) + (span.muted ? ', silent' : ''), from + 9, box.top + 20);
        context.restore();
    });
}

/** What was held, each that ever was on a line of its own. */
function heldTimes(context, held, top, width, x, now) {
    held.filter(({ times }) => times.length > 0).forEach(({ name, times }, i) => {
        const y = top + 18 * i;
        context.fillStyle = colour('ink');
        context.fillText(name, 20, y + 11, NAMES - 28);
        context.fillStyle = colour('turmeric');
        for (const [from, to] of times) {
            const [a, b] = [Math.max(NAMES, x(from)), Math.min(width, x(to ?? Math.max(now, from)))];
            if (b > a) {
                context.fillRect(a, y + 2, Math.max(2, b - a), 9);
            }
        }
    });
}

/** @param view {state, parts, now}: what the server says, parts in order, the tick that is heard */
export function drawLive(canvas, { state, parts, now }) {
    const scale = devicePixelRatio;
    const [width, height] = [canvas.clientWidth, canvas.clientHeight];
    if (width < 200 || height < 60) {
        return;
    }
    canvas.width = width * scale;
    canvas.height = height * scale;
    const context = canvas.getContext('2d');
    context.scale(scale, scale);
    context.font = '13px Atkinson, sans-serif';
    const bar = state?.bar ?? 3840;
    const first = Math.max(0, now / bar - BEHIND * BARS);
    const x = (tick) => NAMES + (tick / bar - first) / BARS * (width - NAMES);
    const tall = Math.min(64, (height - RULER - 18) / parts.length - GAP);
    for (let number = Math.ceil(first); number <= first + BARS; number += 1) {
        context.fillStyle = colour('line');
        context.fillRect(Math.round(x(number * bar)), RULER, 1, (tall + GAP) * parts.length);
        if (number % 4 === 0) {
            context.fillStyle = colour('quiet');
            context.fillText(String(number + 1), x(number * bar) + 4, 15);
        }
    }
    parts.forEach((part, i) => {
        const top = RULER + i * (tall + GAP) + GAP / 2;
        context.fillStyle = colour(part.colour);
        context.beginPath();
        context.arc(8, top + tall / 2, 5, 0, 2 * Math.PI);
        context.fill();
        context.fillStyle = colour('ink');
        context.fillText(part.name, 20, top + tall / 2 + 4, NAMES - 28);
        const own = state?.rows.find(({ part: id }) => id === part.id);
        if (own) {
            row(context, own, part, { top, tall, width }, x, now);
        }
    });
    if (state) {
        const bottom = RULER + (tall + GAP) * parts.length;
        context.fillStyle = colour('turmeric');
        context.fillRect(Math.round(x(now)) - 1, 4, 2, bottom - 4);
        context.fillStyle = colour('quiet');
        // As much of it as has room before now.
        context.fillText(['played: this becomes the song', 'played', ''].find((said) => context.measureText(said).width < x(now) - NAMES - 8) ?? '', NAMES + 4, bottom + 14);
        context.fillText('now', x(now) + 6, bottom + 14);
        context.textAlign = 'right';
        context.fillText('chosen: still free', width - 4, bottom + 14);
        context.textAlign = 'left';
        heldTimes(context, state.held, bottom + 24, width, x, now);
    }
}
