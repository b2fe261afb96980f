import assert from 'node:assert/strict';
import test from 'node:test';

const kept = new Map();
globalThis.localStorage = { getItem: (name) => kept.get(name) ?? null, setItem: (name, value) => kept.set(name, value), removeItem: (name) => kept.delete(name) };
const { areTurns, carriedOut, carryIn, forget, forgetAll, mappingOf, mappings, remember, steps, takesHold } = await import('../../assets/js/beside/mapping.js');

test('what was learned is kept by the name of the controller, and goes out and in as a file', async () => {
    remember('Nine pads', 'places', 40, 3);
    remember('Nine pads', 'sliders', 20, { name: 'levelDb', under: 'kit/a0', label: 'Level' });
    remember('Keys', 'take', null, 'pick-up');
    remember('Keys', 'sliders', 'note 90', { press: 'button[data-click=""]', label: 'Click' });
    const file = await carriedOut().text();
    const before = mappings();
    forget('Keys');
    assert.equal(mappingOf('Keys').take, 'jump');
    forgetAll();
    assert.deepEqual(mappings(), {});
    remember('Other', 'places', 1, 1);
    assert.deepEqual(carryIn(file), ['Nine pads', 'Keys']);
    assert.deepEqual(mappings(), { Other: { places: { 1: 1 }, sliders: {}, take: 'jump' }, ...before });
});

test('a file that is none, or tells nonsense, is refused by name and changes nothing', () => {
    const before = mappings();
    for (const [text, told] of [['no', /not JSON/], ['{}', /missing/], ['{"pestle-controllers":1,"controllers":{"Box":{"places":{"200":1}}}}', /Box/], ['{"pestle-controllers":1,"controllers":{"Box":{"take":"later"}}}', /Box/], ['{"pestle-controllers":1,"controllers":{"Box":{"sliders":{"1":{}}}}}', /Box/], ['{"pestle-controllers":1,"controllers":{"Box":{"sliders":{"1":{"press":"button[","label":"Play"}}}}}', /Box/], ['{"pestle-controllers":1,"controllers":{"Box":{"sliders":{"1":{"press":"*","label":"All"}}}}}', /Box/]]) {
        assert.throws(() => carryIn(text), told);
    }
    assert.deepEqual(mappings(), before);
});

test('a turner without end is told from a slider by steps that repeat', () => {
    assert.deepEqual([1, 3, 127, 125].map(steps), [1, 3, -1, -3]);
    assert.equal(areTurns([1, 1, 2, 1]), true);
    assert.equal(areTurns([127, 127, 126, 127]), true);
    assert.equal(areTurns([1, 2, 3, 4]), false, 'a slider from its end');
    assert.equal(areTurns([1, 1]), false, 'too few');
    assert.equal(areTurns([60, 60, 61, 62]), false);
});

test('a slider that picks up takes hold where it comes by, not before', () => {
    assert.equal(takesHold('jump', null, 1, 0), true);
    assert.equal(takesHold('pick-up', null, 0.1, 0.5), false);
    assert.equal(takesHold('pick-up', 0.1, 0.4, 0.5), false);
    assert.equal(takesHold('pick-up', 0.4, 0.6, 0.5), true);
    assert.equal(takesHold('pick-up', 0.9, 0.51, 0.5), true);
});
