import assert from 'node:assert/strict';
import test from 'node:test';
import { isElsewhere, nextBar, untilBeat, within } from '../../assets/js/audio/loop-places.js';
import { RATE } from '../../assets/js/time.js';

// Four beats at 120, in bars of two.
const loop = { frames: 2 * RATE, ticks: 3840, bar: 1920, section: 's1', beat: 1, plays: 'p1' };

test('the next bar begins where bars begin, in whatever pass, and never before it is asked for', () => {
    for (let from = 0; from < 5 * loop.frames; from += 4999) {
        const when = nextBar(loop, from);
        assert.equal(when % RATE, 0);
        assert.ok(when >= from - 1 && when - from <= RATE, `${from} to ${when}`);
    }
    assert.equal(nextBar(loop, RATE), RATE, 'a bar that begins now is meant');
});

test('a bar that the loop cuts short ends with it', () => {
    const short = { ...loop, bar: 2880 };
    assert.equal(nextBar(short, 1.6 * RATE), 2 * RATE);
});

test('a beat is as far as there is left of this one, or of the loop', () => {
    assert.equal(untilBeat(loop, 0, 960), RATE / 2);
    assert.equal(untilBeat(loop, 720, 960), RATE / 8);
    assert.equal(untilBeat({ ...loop, ticks: 3600 }, 3480, 960), 2 * RATE * 120 / 3600);
});

test('what goes on and on lies within the loop, before its start as well', () => {
    assert.deepEqual([0, loop.frames, -1, 3 * loop.frames + 7].map((frame) => within(frame, loop)), [0, 0, loop.frames - 1, 7]);
});

test('another section, beat or pattern is elsewhere', () => {
    assert.equal(isElsewhere(loop, { beat: 1, plays: 'p1' }, 's1'), false);
    assert.equal(isElsewhere({ ...loop, plays: undefined }, { beat: 1, plays: 'p2' }, 's1'), false);
    for (const [page, section] of [[{ beat: 1, plays: 'p1' }, 's2'], [{ beat: 2, plays: 'p1' }, 's1'], [{ beat: 1, plays: 'p2' }, 's1']]) {
        assert.equal(isElsewhere(loop, page, section), true);
    }
});
