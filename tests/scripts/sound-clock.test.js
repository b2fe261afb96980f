import assert from 'node:assert/strict';
import test from 'node:test';
import { SoundClock } from '../../assets/js/audio/sound-clock.js';

test('what the browser says at random is evened out, and a clock that slipped is found again', () => {
    const clock = new SoundClock();
    assert.equal(clock.isKnown, false);
    clock.look({ contextTime: 0, performanceTime: 0 });
    assert.equal(clock.isKnown, false, 'a clock that does not run yet says nothing');
    let seed = 7;
    const random = () => (seed = seed * 16807 % 2147483647) / 2147483647;
    let worst = 0;
    for (let i = 0; i < 400; i += 1) {
        // From look 200 on it is 30 ms behind, as after sound that came too late.
        const late = i < 200 ? 500 : 530;
        const at = i * 0.06;
        clock.look({ contextTime: at, performanceTime: 1000 * at + late + 16 * random() - 8 });
        if ((i > 60 && i < 200) || i > 260) {
            worst = Math.max(worst, Math.abs(clock.moment(at) - 1000 * at - late));
        }
        assert.ok(Math.abs(clock.time(clock.moment(at)) - at) < 1e-9);
    }
    assert.ok(worst < 3.5, `${worst} ms`);
});
