// How the parts of a recording are drawn while they come: what is there stands where it will stand in the end.

import assert from 'node:assert/strict';
import test from 'node:test';
import { columns } from '../../assets/js/apart/columns.js';

test('each pixel is as high as the largest of its stretches', () => {
    const outline = new Uint8Array([1, 9, 2, 3, 200, 4, 7, 8]);
    assert.deepEqual([...columns(outline, 4, 8)], [9, 3, 200, 8]);
    assert.deepEqual([...columns(outline, 8, 8)], [...outline]);
    assert.equal(Math.max(...columns(outline, 3, 8)), 200);
});

test('where there are fewer stretches than pixels each is as wide as it lasts', () => {
    assert.deepEqual([...columns(new Uint8Array([5, 9]), 6, 2)], [5, 5, 5, 9, 9, 9]);
    // What is not there yet is empty.
    assert.deepEqual([...columns(new Uint8Array([5, 9]), 8, 4)], [5, 5, 9, 9, 0, 0, 0, 0]);
    assert.deepEqual([...columns(new Uint8Array(), 4, 9)], [0, 0, 0, 0]);
});

test('what is drawn of the first half does not move when the second comes', () => {
    const whole = Uint8Array.from({ length: 3000 }, (_, i) => (i * 7919) % 251);
    for (const width of [97, 640, 955, 2999]) {
        const all = columns(whole, width, 3000);
        const half = columns(whole.subarray(0, 1500), width, 3000);
        const shown = Math.floor(width / 2) - 1;
        assert.deepEqual([...half.subarray(0, shown)], [...all.subarray(0, shown)]);
        assert.ok(half.subarray(shown + 2).every((value) => value === 0));
    }
});
