import assert from 'node:assert/strict';
import test from 'node:test';
import { Lead } from '../../assets/js/live/lead.js';

test('while nothing is known, what is chosen has time to come', () => {
    const lead = new Lead();
    assert.ok(lead.seconds >= lead.soon + 0.1);
});

test('where choices are quick they come soon, where they are slow they come when they can', () => {
    const quick = new Lead();
    for (let i = 0; i < 3; ++i) {
        quick.took(0.03, 0.05);
    }
    assert.ok(quick.seconds < 0.15, String(quick.seconds));
    const slow = new Lead();
    slow.took(0.2, 0.4);
    // What took so long would have been late before, and is not any more.
    assert.ok(slow.soon > 0.4 && slow.seconds > 0.2 + slow.soon);
    slow.took(20, 30);
    assert.ok(slow.seconds <= 1.2);
});

test('the slowest of the last counts, and what is long ago does not', () => {
    const lead = new Lead();
    lead.took(0.3, 0.3);
    for (let i = 0; i < 7; ++i) {
        lead.took(0.03, 0.05);
    }
    assert.ok(lead.soon > 0.35);
    lead.took(0.03, 0.05);
    assert.ok(lead.soon < 0.12);
});
