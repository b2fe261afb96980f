// Where swing lets ticks be heard; that it is what the core says, for every tick, is compared in the browser.

import assert from 'node:assert/strict';
import test from 'node:test';
import { swung } from '../../assets/js/swing.js';

test('straight stays straight, by all rules', () => {
    for (let tick = 0; tick < 1920; tick += 1) {
        assert.equal(swung(tick, { swing: 50, swingOn: 240, rules: 1 }), tick);
        assert.equal(swung(tick, { swing: 50, swingOn: 480, rules: 2 }), tick);
    }
});

test('the second of a pair comes later, the first stays, what lies between keeps its order', () => {
    for (const [on, swing] of [[240, 58], [240, 75], [480, 66.7]]) {
        assert.ok(Math.abs(swung(on, { swing, swingOn: on, rules: 1 }) - on * swing / 50) < 1e-9);
        let before = -1;
        for (let tick = 0; tick < 8 * on; tick += 1) {
            const now = swung(tick, { swing, swingOn: on, rules: 1 });
            assert.ok(now > before, `${tick}`);
            assert.ok(tick % (2 * on) !== 0 || now === tick);
            before = now;
        }
    }
});

test('triplets stay by the second rules, and move by the first', () => {
    for (const tick of [160, 320, 640, 800]) {
        assert.equal(swung(tick, { swing: 66, swingOn: 240, rules: 2 }), tick);
        assert.notEqual(swung(tick, { swing: 66, swingOn: 240, rules: 1 }), tick);
    }
    assert.notEqual(swung(165, { swing: 66, swingOn: 240, rules: 2 }), 165);
});
