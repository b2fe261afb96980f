// What of a performance plays and waits, as its page says it.

import assert from 'node:assert/strict';
import test from 'node:test';
import { lastBars, playsAt, whenOf, whenWords } from '../../assets/js/live/waiting.js';

const BAR = 3840;
const state = {
    bar: BAR,
    choices: [
        { id: 'l0', tick: 0, patterns: { 'part-1': 'p1', 'part-2': 'p5' }, muted: {} },
        { id: 'l1', tick: BAR, patterns: { 'part-1': 'p2' }, muted: {} },
        { id: 'l2', tick: 3 * BAR, patterns: { 'part-1': null }, muted: {} },
        { id: 'l3', tick: 4 * BAR, patterns: {}, muted: { 'part-2': true } },
        { id: 'l4', tick: 6 * BAR, patterns: { 'part-1': 'p1', 'part-2': 'p5' }, muted: { 'part-1': false, 'part-2': false } },
    ],
    rows: [
        { part: 'part-1', spans: [{ from: 0, pattern: 'p1', muted: false }, { from: BAR, pattern: 'p2', muted: false }, { from: 3 * BAR, pattern: null, muted: false }, { from: 6 * BAR, pattern: 'p1', muted: false }] },
        { part: 'part-2', spans: [{ from: 0, pattern: 'p5', muted: false }, { from: 4 * BAR, pattern: 'p5', muted: true }, { from: 6 * BAR, pattern: 'p5', muted: false }] },
    ],
};

test('what a part plays is what was chosen last', () => {
    assert.equal(playsAt(state, 'part-1', 0).pattern, 'p1');
    assert.equal(playsAt(state, 'part-1', BAR - 1).pattern, 'p1');
    assert.equal(playsAt(state, 'part-1', BAR).pattern, 'p2');
    assert.equal(playsAt(state, 'part-1', 5 * BAR).pattern, null);
    assert.equal(playsAt(state, 'part-2', 5 * BAR).muted, true);
    assert.equal(playsAt(state, 'part-9', 0), null);
    assert.equal(playsAt(null, 'part-1', 0), null);
});

test('a pattern plays, waits, or neither', () => {
    const p2 = { patterns: { 'part-1': 'p2' } };
    assert.deepEqual(whenOf(p2, state, 100), { plays: false, choice: 'l1', tick: BAR });
    assert.deepEqual(whenOf(p2, state, 2 * BAR), { plays: true, choice: undefined, tick: undefined });
    assert.deepEqual(whenOf(p2, state, 4 * BAR), { plays: false, choice: undefined, tick: undefined });
    // What is chosen for all parts is another choice than that of one.
    assert.equal(whenOf({ patterns: { 'part-1': 'p1' } }, state, 4 * BAR).choice, undefined);
});

test('nothing is something that can be chosen', () => {
    const nothing = { patterns: { 'part-1': '' } };
    assert.deepEqual(whenOf(nothing, state, 2 * BAR), { plays: false, choice: 'l2', tick: 3 * BAR });
    assert.equal(whenOf(nothing, state, 3 * BAR).plays, true);
});

test('a section plays when all of its parts do', () => {
    const section = { patterns: { 'part-1': 'p1', 'part-2': 'p5' } };
    assert.equal(whenOf(section, state, 0).plays, true);
    assert.equal(whenOf(section, state, BAR).plays, false);
    assert.deepEqual(whenOf(section, state, 5 * BAR), { plays: false, choice: 'l4', tick: 6 * BAR });
    assert.equal(whenOf(section, null, 0).plays, false);
});

test('a mute waits to be turned round, and to be turned back', () => {
    const mute = { mute: 'part-2' };
    assert.deepEqual(whenOf(mute, state, 0), { plays: false, choice: 'l3', tick: 4 * BAR });
    assert.deepEqual(whenOf(mute, state, 5 * BAR), { plays: true, choice: 'l4', tick: 6 * BAR });
    assert.deepEqual(whenOf({ mute: 'part-1' }, state, 0), { plays: false, choice: undefined, tick: undefined });
});

test('it is said in bars, rounded up', () => {
    const says = { patterns: { 'part-1': 'p2' } };
    assert.equal(whenWords(says, { plays: false, tick: BAR }, 1, BAR), 'with the bar');
    assert.equal(whenWords(says, { plays: false, tick: 4 * BAR }, BAR + 1, BAR), 'in 3 bars');
    assert.equal(whenWords(says, { plays: true, tick: 4 * BAR }, BAR, BAR), 'in 3 bars');
    assert.equal(whenWords(says, { plays: true }, 0, BAR), 'plays');
    assert.equal(whenWords(says, { plays: false }, 0, BAR), '');
    assert.equal(whenWords({ mute: 'part-1' }, { plays: true }, 0, BAR), 'silent');
});

test('the last bars end with the one that is begun, and do not begin before the first', () => {
    assert.deepEqual(lastBars(0, BAR, 0), { from: 0, to: BAR });
    assert.deepEqual(lastBars(BAR, BAR, 0), { from: 0, to: BAR });
    assert.deepEqual(lastBars(BAR + 1, BAR, 0), { from: 0, to: 2 * BAR });
    assert.deepEqual(lastBars(20 * BAR - 5, BAR, 8), { from: 12 * BAR, to: 20 * BAR });
    assert.deepEqual(lastBars(3 * BAR, BAR, 8), { from: 0, to: 3 * BAR });
    for (let now = 0; now < 40 * BAR; now += 977) {
        for (const bars of [1, 4, 16]) {
            const { from, to } = lastBars(now, BAR, bars);
            assert.ok(from >= 0 && to >= now && to - now <= BAR && to - from <= bars * BAR && to > from && from % BAR === 0 && to % BAR === 0);
        }
    }
});
