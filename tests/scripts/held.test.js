// Lists that a page sends by what differs: whatever is taken out and put in, the page ends with the list the server has.

import assert from 'node:assert/strict';
import test from 'node:test';
import { rowsOf } from '../../assets/js/held.js';

/** Numbers by chance from a seed (Park and Miller). */
function chance(seed) {
    let state = seed;

    return (most) => { state = (state * 48271) % 2147483647; return state % most; };
}

const sent = (hash, rows) => ({ dataset: { hitsHash: hash, hits: JSON.stringify(rows) } });

test('a list is read once and kept by its hash', () => {
    const element = sent('one', [[0, 'a0', 100]]);
    const rows = rowsOf(element, 'hits');
    assert.deepEqual(rows, [[0, 'a0', 100]]);
    element.dataset.hits = 'no JSON any more';
    assert.equal(rowsOf(element, 'hits'), rows);
});

test('patches one after another lead where the server is', () => {
    for (let seed = 1; seed <= 40; seed += 1) {
        const next = chance(seed);
        let rows = Array.from({ length: 20 }, (_, i) => [i * 120, `a${next(8)}`, 1 + next(127)]);
        const element = sent('v0', rows);
        rowsOf(element, 'hits');
        for (let version = 1; version <= 12; version += 1) {
            const take = rows.filter(() => next(4) === 0);
            const put = Array.from({ length: next(4) }, () => [next(3840), `a${next(8)}`, 1 + next(127)]);
            rows = [...rows.filter((row) => !take.includes(row)), ...put].sort((a, b) => a[0] - b[0]);
            delete element.dataset.hits;
            Object.assign(element.dataset, { hitsHash: `v${version}`, hitsPatch: JSON.stringify({ base: `v${version - 1}`, take, put }) });
            const shown = rowsOf(element, 'hits');
            assert.deepEqual(shown.map(String).sort(), rows.map(String).sort(), `seed ${seed}, version ${version}`);
            assert.deepEqual(shown.map(([tick]) => tick), rows.map(([tick]) => tick));
        }
    }
});

test('a patch of another list is refused, so that the page is asked for anew', () => {
    const element = sent('v1', [[0, 'a0', 1]]);
    rowsOf(element, 'hits');
    delete element.dataset.hits;
    Object.assign(element.dataset, { hitsHash: 'v9', hitsPatch: JSON.stringify({ base: 'v8', take: [], put: [] }) });
    assert.equal(rowsOf(element, 'hits'), null);
    const fresh = { dataset: { hitsHash: 'v9', hitsPatch: JSON.stringify({ base: 'v1', take: [], put: [] }) } };
    assert.equal(rowsOf(fresh, 'hits'), null);
});

test('lists of one element do not know of one another', () => {
    const element = { dataset: { hitsHash: 'h', hits: '[[1]]', feltHash: 'f', felt: '[[2]]' } };
    assert.deepEqual([rowsOf(element, 'hits'), rowsOf(element, 'felt')], [[[1]], [[2]]]);
});
