import assert from 'node:assert/strict';
import test from 'node:test';
import { bpmAt, framesAt, loopFrames, loopTicks, partOf, RATE, sameTime, ticksAt } from '../../assets/js/time.js';

const steady = { bpm: 90, places: [] };
// A bar at 60, then one at 120.
const moving = { bpm: 90, places: [[0, 0], [3840, 4], [7680, 6], [1e6, 6 + (1e6 - 7680) / 1920]] };

test('at one tempo ticks and frames go evenly', () => {
    assert.equal(framesAt(960, steady), RATE * 60 / 90);
    assert.equal(ticksAt(RATE * 60 / 90, steady), 960);
    assert.equal(bpmAt(12345, steady), 90);
});

test('where the tempo moves, they go by the places the core says', () => {
    assert.deepEqual([0, 1920, 3840, 5760, 7680, 9600].map((tick) => framesAt(tick, moving) / RATE), [0, 2, 4, 5, 6, 7]);
    for (const tick of [-480, 0, 3, 3839, 3840, 4444, 12000]) {
        assert.ok(Math.abs(ticksAt(framesAt(tick, moving), moving) - tick) < 1e-6);
    }
    assert.deepEqual([bpmAt(0, moving), bpmAt(3840, moving)], [60, 120]);
});

test('a stretch of it begins at nothing and is as long as it is there', () => {
    const part = partOf(moving.places, 1920, 5760);
    assert.deepEqual(part, [[0, 0], [1920, 2], [3840, 3]]);
    const loop = { frames: 3 * RATE, ticks: 3840, places: part };
    assert.equal(loopFrames(2880, loop), 2.5 * RATE);
    assert.equal(loopTicks(2.5 * RATE, loop), 2880);
    assert.equal(loopTicks(RATE, { frames: 2 * RATE, ticks: 3840 }), 1920);
});

test('two lines are the same when they go as fast all along', () => {
    assert.ok(sameTime(steady, { bpm: 90, places: [] }));
    assert.ok(!sameTime(steady, { bpm: 91, places: [] }));
    assert.ok(!sameTime(steady, moving));
});
