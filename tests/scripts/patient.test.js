// Asking again: how often, for how long, and what is told meanwhile. A server of our own stands in for Pestle.

import assert from 'node:assert/strict';
import http from 'node:http';
import test, { after, before } from 'node:test';
import { askEngine, askMeasured, patiently } from '../../assets/js/patient.js';

let server;
let base;
/** Another one for each list of answers: what an earlier test left on its way does not take them. */
let address;
let round = 0;
/** What is answered, one after another; the last one again and again. */
let answers = [];
let asked = 0;

before(async () => {
    server = http.createServer(({ url }, response) => {
        if (url !== `/${round}`) {
            response.writeHead(410).end();

            return;
        }
        const [status, body, headers = {}] = answers[Math.min(asked, answers.length - 1)];
        asked += 1;
        response.writeHead(status, { 'Content-Type': 'application/json', ...headers });
        response.end(body === undefined ? undefined : JSON.stringify(body));
    });
    await new Promise((resolve) => { server.listen(0, '127.0.0.1', resolve); });
    base = `http://127.0.0.1:${server.address().port}/`;
});
after(() => server.close());

const answering = (...list) => {
    answers = list;
    asked = 0;
    round += 1;
    address = `${base}${round}`;
};
const busy = [503, { error: 'Busy' }, { 'Retry-After': '1' }];
const read = async (response) => ({ answer: await response.json() });

test('where newer questions took the turn it is asked again', async () => {
    answering(busy, [200, { dropped: true }], [200, { lufs: -14 }]);
    assert.deepEqual(await askMeasured(address), { answer: { lufs: -14 } });
    assert.equal(asked, 3);
});

test('what is not wanted any more is not asked again', async () => {
    answering([200, { dropped: true }]);
    assert.deepEqual(await askEngine(address, {}, read, () => false), { problem: 'Newer sound was asked for meanwhile.' });
    answering(busy);
    assert.deepEqual(await askEngine(address, {}, read, () => false), { problem: 'Busy' });
    assert.equal(asked, 1);
});

test('a refusal is a sentence, and so is an error within an answer', async () => {
    answering([422, { error: 'tempo must be a number from 20 to 400.' }]);
    assert.deepEqual(await askMeasured(address), { problem: 'tempo must be a number from 20 to 400.' });
    answering([200, { error: 'The engine takes too long for this. Try again.' }]);
    assert.deepEqual(await askMeasured(address), { problem: 'The engine takes too long for this. Try again.' });
    answering([500]);
    assert.deepEqual(await askMeasured(address), { problem: 'The sound cannot be fetched. Try again in a moment.' });
});

test('a question that is called off ends at once', async () => {
    answering(busy);
    const ended = new AbortController();
    const question = askMeasured(address, ended.signal);
    setTimeout(() => ended.abort(), 50);
    await assert.rejects(question, { name: 'AbortError' });
});

test('what is worked out tells how far it is until it is there', async () => {
    answering([202, { working: null }], busy, [202, { working: 0.4 }], [200, { hits: [1, 2] }]);
    const told = [];
    const response = await patiently(address, (progress) => told.push(progress));
    assert.deepEqual(await response.json(), { hits: [1, 2] });
    assert.deepEqual(told, [null, 0.4]);
});

test('what was given up is told, and nothing is waited for', async () => {
    answering([202, { error: 'The disk is full.' }]);
    const response = await patiently(address);
    assert.equal(response.ok, false);
    assert.deepEqual(await response.json(), { error: 'The disk is full.' });
    assert.equal(asked, 1);
});
