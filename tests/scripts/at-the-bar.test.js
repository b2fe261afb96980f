// What begins with a bar does so also on a page that is too busy to come to it in time.

import assert from 'node:assert/strict';
import test from 'node:test';
import { Course } from '../../assets/js/audio/course.js';
import { atTheBar } from '../../assets/js/audio/at-the-bar.js';
import { RATE } from '../../assets/js/time.js';

// A clock as a browser has it, for what is no browser.
const begun = performance.now();
globalThis.AudioContext = class {
    state = 'running';

    get currentTime() {
        return (performance.now() - begun) / 1000;
    }
};
globalThis.setInterval = () => 0;

const clock = () => (performance.now() - begun) / 1000;
const BAR = 0.2;
const loop = { frames: 4 * BAR * RATE, ticks: 4 * 3840, bar: 3840 };
const inBars = (frame) => frame / RATE / BAR;

test('a page that is in time begins with the next bar', async () => {
    const asked = clock();
    const when = await atTheBar(loop, new Course(0), 0.01);
    assert.ok(Math.abs(inBars(when) - Math.round(inBars(when))) < 1e-6, 'a bar begins there');
    assert.ok(when / RATE > clock() && when / RATE < asked + BAR + 0.03, 'the next, and it is still to come');
});

test('a page that is too late for a bar begins with one that is still to come', async () => {
    // Busy for longer than a bar, from before the next one on.
    setTimeout(() => { for (const until = clock() + 1.6 * BAR; clock() < until;); }, 1);
    const when = await atTheBar(loop, new Course(0), 0.01);
    assert.ok(Math.abs(inBars(when) - Math.round(inBars(when))) < 1e-6, 'a bar begins there');
    assert.ok(when / RATE > clock(), 'it is still to come');
});
