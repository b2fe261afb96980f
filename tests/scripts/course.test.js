import assert from 'node:assert/strict';
import test from 'node:test';
import { Course } from '../../assets/js/audio/course.js';
import { RATE } from '../../assets/js/time.js';

test('without a turn a frame is a frame of the clock', () => {
    const course = new Course(5000);
    assert.equal(course.frame(5000 / RATE), 0);
    assert.equal(course.when(RATE), (5000 + RATE) / RATE);
});

test('a turn leaves what was where it was, and moments and frames stay each other\'s reverse', () => {
    const course = new Course(-777);
    let at = 1;
    for (let i = 0; i < 60; i += 1) {
        const before = course.frame(at);
        course.turn(at, 1 + 0.02 * Math.sin(i));
        assert.ok(Math.abs(course.frame(at) - before) < 1e-6);
        const later = at + 0.37;
        assert.ok(Math.abs(course.when(course.frame(later)) - later) < 1e-9);
        assert.ok(course.frame(later) > before);
        at += 0.1;
    }
    const moment = at - 0.15;
    const heard = course.frame(moment);
    course.turn(at, 1);
    assert.ok(Math.abs(course.frame(moment) - heard) < 1e-6, 'a moment ago it was where it was');
});

test('counted otherwise, or put elsewhere, it goes on as fast', () => {
    const course = new Course(0);
    course.turn(1, 1.01);
    const before = course.frame(3);
    course.count(1000);
    assert.ok(Math.abs(course.frame(3) - before - 1000) < 1e-6);
    course.at(3, 42);
    assert.ok(Math.abs(course.frame(3) - 42) < 1e-6);
    assert.ok(Math.abs(course.frame(4) - 42 - 1.01 * RATE) < 1e-6);
});
