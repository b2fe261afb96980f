// What begins with a bar does so also on a page that is too busy to come to it in time. Time is told here, so that no machine is too slow.

import assert from 'node:assert/strict';
import test from 'node:test';
import { Course } from '../../assets/js/audio/course.js';
import { atTheBar } from '../../assets/js/audio/at-the-bar.js';
import { RATE } from '../../assets/js/time.js';

let now = 0;
/** By how much pauses are too long, one after another, in seconds; the last again and again. */
let late = [0];
globalThis.AudioContext = class {
    state = 'running';

    get currentTime() {
        return now;
    }
};
globalThis.setInterval = () => 0;
globalThis.setTimeout = (done, ms) => {
    now += ms / 1000 + (late.length > 1 ? late.shift() : late[0]);
    queueMicrotask(done);
};

const BAR = 0.2;
const SOON = 0.01;
const loop = { frames: 4 * BAR * RATE, ticks: 4 * 3840, bar: 3840 };

/** Which bar it begins with, counted from the start of the clock. */
async function bar(at, lateness) {
    now = at;
    late = lateness;

    return await atTheBar(loop, new Course(0), SOON) / (RATE * BAR);
}

test('a page that is in time begins with the next bar', async () => {
    assert.equal(await bar(1.03, [0]), 6);
    assert.ok(Math.abs(now - (1.2 - SOON)) < 1e-9, 'shortly before it');
});

test('a page that comes too late for a bar begins with the next that is still to come', async () => {
    assert.equal(await bar(1.03, [0.31, 0]), 8);
    assert.equal(await bar(1.03, [1.9, 0.31, 0]), 18);
});

test('a page that is always late asks earlier', async () => {
    const at = await bar(1.03, [0.05]);
    assert.equal(at, Math.round(at));
    assert.ok(now < at * BAR - SOON / 2);
});
