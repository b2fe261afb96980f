// How late a click comes back by the microphone: known delays, in noise and among other sounds; what is not heard is not guessed.

import assert from 'node:assert/strict';
import test from 'node:test';
import { delayOf } from '../../assets/js/loopback.js';

const RATE = 44100;
const clicks = [10_000, 36_000, 62_000, 88_000];

function room(delay, { noise = 0, level = 0.4, missing = -1 } = {}) {
    const sound = new Float32Array(130_000);
    let state = 7;
    for (let i = 0; i < sound.length; i += 1) {
        state = (1103515245 * state + 12345) % 2147483648;
        sound[i] = noise * (state / 1073741824 - 1);
    }
    clicks.forEach((click, n) => {
        for (let i = 0; i < 400 && n !== missing; i += 1) {
            sound[click - 5000 + delay + i] += level * Math.sin(i / 4) * Math.exp(-i / 90);
        }
    });

    return sound;
}

test('a click that comes back is found to the millisecond, in noise too, and when one is lost', () => {
    for (const delay of [130, 1000, 5230, 15_000]) {
        assert.ok(Math.abs(delayOf(room(delay), 5000, clicks, RATE) - delay) <= 10);
        assert.ok(Math.abs(delayOf(room(delay, { noise: 0.02 }), 5000, clicks, RATE) - delay) <= 10);
        assert.ok(Math.abs(delayOf(room(delay, { missing: 1 }), 5000, clicks, RATE) - delay) <= 10);
    }
});

test('what is not heard is not guessed', () => {
    assert.equal(delayOf(room(900, { level: 0 }), 5000, clicks, RATE), null);
    assert.equal(delayOf(room(900, { noise: 0.5, level: 0.4 }), 5000, clicks, RATE), null);
    assert.equal(delayOf(new Float32Array(0), 5000, clicks, RATE), null);
});
