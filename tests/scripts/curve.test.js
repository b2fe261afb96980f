// Curves as they are drawn, and the tools they are drawn with; that they are what the core says is compared in the browser.

import assert from 'node:assert/strict';
import test from 'node:test';
import { exchanged, shareOf, valueAt, valueOf } from '../../assets/js/curve.js';
import { drawn, shifted } from '../../assets/js/moves/tools.js';

const scale = { least: -60, most: 12, bend: 1 };
const bent = { least: 20, most: 20000, bend: 3 };
const was = [[0, -10, 0], [960, 0, 1], [1920, -20, 0], [3840, -6, 0]];
const at = (name, places, more = {}) => {
    const { draw } = drawn(name, { was, start: places[0], grid: 480, inTime: (tick) => Math.round(tick / 480) * 480, set: -3, ...more });

    return places.slice(1).map(draw).at(-1);
};

test('a curve stays before and after its points, jumps where it says so and bends late or early', () => {
    assert.deepEqual([-5, 0, 480, 960, 1919, 1920, 9000].map((tick) => valueAt(was, tick)), [-10, -10, -5, 0, 0, -20, -6]);
    assert.ok(valueAt([[0, 0, 0.5], [100, 1, 0]], 50) < 0.1);
    assert.ok(valueAt([[0, 0, -0.5], [100, 1, 0]], 50) > 0.8);
    assert.equal(valueAt([[0, 3, -1], [100, 1, 0]], 1), 1);
});

test('shares of a scale lead back to their values', () => {
    for (const on of [scale, bent]) {
        for (let share = 0; share <= 1; share += 0.05) {
            assert.ok(Math.abs(shareOf(on, valueOf(on, share)) - share) < 1e-9);
        }
    }
    assert.equal(valueOf(bent, 2), 20000);
    assert.equal(shareOf(scale, -100), 0);
});

test('a line takes the place of what lies under it, whichever way it is drawn', () => {
    const right = at('line', [{ tick: 500, value: -30 }, { tick: 2000, value: 6 }]);
    assert.deepEqual(right, [[0, -10, 0], [480, -30, 0], [1920, 6, 0], [3840, -6, 0]]);
    assert.deepEqual(at('line', [{ tick: 2000, value: 6 }, { tick: 500, value: -30 }]), right);
});

test('steps lie on the grid and jump; after them it goes on as it was', () => {
    const steps = at('steps', [{ tick: 500, value: -30 }, { tick: 500, value: -30 }, { tick: 1000, value: -20 }, { tick: 1100, value: -18 }]);
    assert.deepEqual(steps, [[0, -10, 0], [480, -30, 1], [960, -18, 1], [1440, 0, 0], [1920, -20, 0], [3840, -6, 0]]);
});

test('a peak goes up and back within its part of the grid', () => {
    assert.deepEqual(at('peak', [{ tick: 2500, value: 0 }, { tick: 2500, value: 12 }]), [[0, -10, 0], [960, 0, 1], [1920, -20, 0], [2400, -16.5, 0], [2640, 12, 0], [2880, -13, 0], [3840, -6, 0]]);
});

test('rubbing out leaves at least where it is set', () => {
    assert.deepEqual(at('rub', [{ tick: 900, value: 0 }, { tick: 2000, value: 0 }]), [[0, -10, 0], [3840, -6, 0]]);
    assert.deepEqual(at('rub', [{ tick: 0, value: 0 }, { tick: 9000, value: 0 }]), [[0, -3, 0]]);
});

test('chosen points move together and never past one that stays', () => {
    assert.deepEqual(shifted(was, new Set([1, 2]), 5000, 0, scale).map(([tick]) => tick), [0, 3840, 3840, 3840]);
    assert.deepEqual(shifted(was, new Set([0]), -500, 1, scale)[0], [0, 12, 0]);
    assert.deepEqual(exchanged(was, 100, 200, []), was);
});
