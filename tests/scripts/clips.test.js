// What a clip becomes under the pointer: cropped, what is heard stays where it is; nothing leaves its recording.

import assert from 'node:assert/strict';
import test from 'node:test';
import { endAt, faded, gainAt, length, startAt } from '../../assets/js/clips/shaping.js';

/** Chance from a seed, 0 to below n. */
function chance(seed) {
    let state = seed;

    return (n) => {
        state = (1103515245 * state + 12345) % 2147483648;

        return Math.floor(state / 2147483648 * n);
    };
}

function random(next) {
    const frames = 5000 + next(400_000);
    const from = next(frames - 2000);

    return { at: next(60_000), from, to: from + 500 + next(frames - from - 500), frames, step: 0.02 + next(100) / 2000, reversed: next(2) === 1, in: 0, out: 0, gain: 1, inShape: 'straight', outShape: 'slow' };
}

/** Which frame is heard at a tick. */
function heard(clip, tick) {
    const along = (tick - clip.at) / clip.step;

    return clip.reversed ? clip.to - along : clip.from + along;
}

test('cropped at either end, what is heard of it stays where it is, and it never leaves its recording', () => {
    let cut = 0;
    for (let seed = 1; seed <= 400; seed += 1) {
        const next = chance(seed);
        const clip = random(next);
        const tick = next(90_000);
        const middle = clip.at + length(clip) / 2;
        for (const now of [startAt(clip, tick), endAt(clip, tick)]) {
            assert.ok(now.from >= 0 && now.to <= clip.frames && now.to - now.from >= 64 && now.at >= 0, `seed ${seed}: ${JSON.stringify(now)}`);
            assert.ok(Math.abs(heard(now, middle) - heard(clip, middle)) <= 0.51 / clip.step + 1, `seed ${seed}`);
            assert.ok(Number.isInteger(now.at) && Number.isInteger(now.from) && Number.isInteger(now.to));
            cut += now.to - now.from !== clip.to - clip.from;
        }
        const end = clip.at + length(clip);
        assert.ok(Math.abs(startAt(clip, tick).at + length(startAt(clip, tick)) - end) <= 0.51 + clip.step, 'its end stays');
        assert.equal(endAt(clip, tick).at, clip.at, 'its start stays');
    }
    assert.ok(cut > 500);
});

test('a start within the recording lies on the tick that is wanted', () => {
    const clip = { at: 3840, from: 10_000, to: 60_000, frames: 80_000, step: 0.0435, reversed: false };
    assert.equal(startAt(clip, 3600).at, 3600);
    assert.equal(startAt(clip, 4320).at, 4320);
    assert.deepEqual([startAt(clip, 0).from, startAt(clip, 0).at], [0, Math.round(3840 - 10_000 * 0.0435)]);
    assert.equal(startAt({ ...clip, reversed: true }, 4320).from, 10_000);
    assert.equal(endAt(clip, 99_999).to, 80_000);
    assert.equal(endAt({ ...clip, reversed: true }, 99_999).from, 0);
});

test('fades end where the other begins, and are as loud as their tables say', () => {
    const shapes = { straight: [0, 0.5, 1], slow: [0, 0.25, 1] };
    const clip = { ...random(chance(3)), out: 0, gain: 0.5 };
    const all = length(clip);
    const both = faded(faded(clip, 'out', all * 0.4), 'in', all);
    assert.ok(Math.abs(both.in - all * 0.6) < 1e-6);
    assert.equal(faded(clip, 'in', -5).in, 0);
    for (const [place, gain] of [[0, 0], [0.3, 0.25], [0.6, 0.5], [0.8, 0.125], [1, 0]]) {
        assert.ok(Math.abs(gainAt(both, place, shapes) - gain) < 1e-6, `${place}`);
    }
});
