import assert from 'node:assert/strict';
import test from 'node:test';
import { PULSES, Pulses } from '../../assets/js/beside/pulses.js';

/** A clock at a tempo that is a function of seconds, each pulse late by chance; gives moments of the pulses without that. */
function run(clock, bpm, seconds, late = () => 0, from = 1000) {
    const moments = [];
    for (let at = from; at < from + 1000 * seconds; at += 60_000 / PULSES / bpm((at - from) / 1000)) {
        moments.push(at);
        clock.take([0xf8], at + late());
    }

    return moments;
}

function chance(seed) {
    let state = seed;

    return () => (state = state * 16807 % 2147483647) / 2147483647;
}

test('an even clock is known by half a quarter, to the tick', () => {
    const clock = new Pulses();
    clock.take([0xfa], 999);
    const moments = run(clock, () => 93, 1);
    assert.ok(Math.abs(clock.bpm - 93) < 1e-6);
    assert.ok(Math.abs(clock.ticks(moments[0])) < 1e-6, 'the pulse after the start is its downbeat');
    assert.ok(Math.abs(clock.moment(3840) - moments[0] - 4 * 60_000 / 93) < 1e-3);
    const fresh = new Pulses();
    run(fresh, () => 93, 0.2);
    assert.equal(fresh.isKnown, false);
});

test('pulses that come late by chance are evened out', () => {
    for (let seed = 1; seed < 20; seed += 1) {
        const random = chance(seed);
        const clock = new Pulses();
        clock.take([0xfa], 999);
        const moments = run(clock, () => 120, 20, () => 4 * random());
        assert.ok(Math.abs(clock.steadyBpm - 120) < 0.6, `${clock.steadyBpm}`);
        const off = clock.moment(40 * (moments.length - 1)) - moments.at(-1);
        assert.ok(off > -0.5 && off < 4, `${off} ms`);
    }
});

test('a clock that wavers by 2 % and drifts from 90 to 100 is followed within 3 ms, and its steady tempo wavers little', () => {
    const bpm = (seconds) => (90 + Math.min(10, seconds / 2)) * (1 + 0.02 * Math.sin(2 * Math.PI * seconds / 3.7));
    const clock = new Pulses();
    clock.take([0xfa], 999);
    const moments = [];
    let [most, steadiest] = [0, [Infinity, 0]];
    let n = 0;
    for (let at = 1000; at < 41_000; at += 60_000 / PULSES / bpm((at - 1000) / 1000)) {
        clock.take([0xf8], at);
        moments.push(at);
        if (n > 100) {
            most = Math.max(most, Math.abs(clock.moment(40 * n) - at));
        }
        if (at > 31_000) {
            steadiest = [Math.min(steadiest[0], clock.steadyBpm), Math.max(steadiest[1], clock.steadyBpm)];
        }
        n += 1;
    }
    assert.ok(most < 3, `${most} ms`);
    assert.ok(steadiest[0] > 99 && steadiest[1] < 101, `${steadiest}`);
});

test('a song position, going on and stopping', () => {
    const clock = new Pulses();
    clock.take([0xf2, 4, 1], 0);
    clock.take([0xfb], 0);
    const moments = run(clock, () => 100, 2);
    assert.ok(Math.abs(clock.ticks(moments[0]) - (4 + 128) * 240) < 1e-6);
    clock.take([0xfc], 3000);
    assert.equal(clock.runs, false);
    assert.equal(clock.isAway(moments.at(-1) + 100), false);
    assert.equal(clock.isAway(moments.at(-1) + 1000), true);
});

test('a downbeat that is told by ear puts it on the nearest bar', () => {
    const clock = new Pulses();
    const moments = run(clock, () => 120, 5);
    const heard = moments[40] + 7;
    clock.isOne(heard, 3840);
    assert.ok(Math.abs(Math.round(clock.ticks(moments[40]) / 3840) * 3840 - clock.ticks(moments[40])) < 1e-3);
    assert.ok(clock.runs && clock.placed);
});
