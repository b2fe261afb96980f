// Levels drawn from envelopes that PHP rendered.

import { write } from './write.js';

const FLOOR_DB = -60;
/** What is held falls so many dB a second, however often it is drawn. */
const FALL_DB = 7.5;
/** What is held by meter and side, in dB, and when that was. */
const holds = new Map();

export const ROLE_COLOURS = {
    kick: 'plum', bass: 'plum', snare: 'tide', tonal: 'tide', clap: 'clay', tom: 'clay', hat: 'basil',
    'open-hat': 'basil', percussion: 'basil', cymbal: 'turmeric', voice: 'paprika', effect: 'quiet',
};
let colours = new Map();
document.addEventListener('pestle:theme', () => { colours = new Map(); }, { capture: true });

/** A colour of the theme; asked for thousands of times a picture. */
export function colour(name) {
    if (!colours.has(name)) {
        colours.set(name, getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim());
    }

    return colours.get(name);
}

export function decibels(value) {
    return value > 1e-6 ? 20 * Math.log10(value) : -Infinity;
}

/** Where a level stands on a scale from -60 to +12 dB, as faders have it. */
export function place(db) {
    return Math.max(0, Math.min(1, (db - FLOOR_DB) / (12 - FLOOR_DB)));
}

/** What stands on a canvas: what would be drawn the same is not drawn again. */
const drawn = new WeakMap();

/** Two bars with a held peak; `top` is the level at the right end. A canvas that was emptied is drawn with `anew`. */
export function drawBars(canvas, left, right, top = 0, anew = false) {
    const { width, height } = canvas;
    const now = performance.now() / 1000;
    // In whole points: what moves by less is not drawn anew.
    const at = (db) => Math.round(Math.max(0, Math.min(1, (db - FLOOR_DB) / (top - FLOOR_DB))) * width);
    const levels = [left, right].map((value, side) => {
        const key = `${canvas.id || canvas.dataset.meter}/${side}`;
        const db = decibels(value);
        const before = holds.get(key) ?? { held: FLOOR_DB, at: now };
        const held = Math.max(db, before.held - FALL_DB * (now - before.at), FLOOR_DB);
        holds.set(key, { held, at: now });

        return [at(db), at(held), db > -0.5];
    });
    const looks = `${levels} ${width} ${height} ${colour('sunk')}`;
    if (!anew && drawn.get(canvas) === looks) {
        return;
    }
    drawn.set(canvas, looks);
    const context = canvas.getContext('2d');
    context.clearRect(0, 0, width, height);
    const bar = height * 0.3;
    levels.forEach(([level, held, hot], side) => {
        const y = side === 0 ? height * 0.1 : height * 0.58;
        context.fillStyle = colour('sunk');
        context.beginPath();
        context.roundRect(0, y, width, bar, bar / 2);
        context.fill();
        context.fillStyle = hot ? colour('paprika') : colour('basil');
        context.beginPath();
        context.roundRect(0, y, level, bar, bar / 2);
        context.fill();
        if (held > at(FLOOR_DB + 1)) {
            context.fillStyle = colour('ink');
            context.fillRect(held, y - 2, 3, bar + 4);
        }
    });
}

/** The output level at the end of the transport edge. */
export function drawLevel(now) {
    const canvas = document.getElementById('level');
    const label = document.getElementById('peak');
    const [l, r] = now ? [now.meters.mix[2 * now.column] ?? 0, now.meters.mix[2 * now.column + 1] ?? 0] : [0, 0];
    drawBars(canvas, l, r);
    const peak = now ? decibels(Math.max(...now.meters.mix)) : -Infinity;
    write(label, Number.isFinite(peak) ? peak.toFixed(1).replace('-', '−') : '−∞');
}
