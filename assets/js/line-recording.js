// A voice over the song: it plays from a bar before, what was sung is put where it was heard, and later takes over earlier ones.

import { change } from './changes.js';
import { audio, RATE } from './audio/context.js';
import { player } from './audio/player.js';
import { comeIn } from './gather.js';
import { playFrom } from './line-of-time.js';
import { rangeOf } from './loop-range.js';
import { notice } from './notice.js';
import { goTo, page, songTime } from './page.js';
import { cursor, snapped } from './song-cursor.js';
import { framesAt, ticksAt } from './time.js';
import { countIn, songPlace } from './transport.js';

/** Where the voice is wanted, in ticks: {from, to}; the range that goes round ends it. */
let wanted = null;
/** Track of the last take, by beat, and how many takes it has. */
let last = { beat: 0, track: null, takes: 0 };

/** Seconds until what is played is heard, recorded and back here; as measured, or as the browser says. */
export function roundTrip() {
    const measured = localStorage.getItem('pestle-loopback');

    return measured === null ? (audio().outputLatency || 0) + (audio().baseLatency || 0) : Number(measured) / 1000;
}

function frames(ticks) {
    return framesAt(ticks, songTime());
}

/** Plays the song up to where recording begins, with a bar before it to come in with: of the song, or of clicks where it has none. */
export async function playAlong(count) {
    const range = rangeOf(page());
    const from = range?.from ?? snapped(cursor());
    wanted = { from, to: range?.to ?? null };
    const before = count ? page().bar : 0;
    await playFrom(Math.max(0, from - before), before > from ? () => countIn(1, songTime()) : null);
}

/** Whether the end of the range has gone by. */
export function isOver() {
    return wanted?.to !== null && wanted !== null && player.playing && player.what === 'song' && songPlace().ticks > wanted.to + 240;
}

/**
 * Puts what was recorded onto the line, where it was heard.
 *
 * @param {ArrayBuffer} file a WAV file
 * @param {number} first     frame of the audio clock at which it begins
 * @param {number} length    in frames
 */
export async function keepTake(file, first, length, name) {
    const { from, to } = wanted;
    const heard = player.course.when(frames(from)) * RATE;
    player.stop();
    wanted = null;
    const begin = Math.round(heard + roundTrip() * RATE - first);
    const [cut, late] = [Math.max(0, begin), Math.max(0, -begin)];
    const end = to === null ? length : Math.min(length, Math.round(begin + frames(to) - frames(from)));
    if (end - cut < RATE / 20) {
        notice('The song had not come to where recording begins: nothing was kept.', { bad: true });

        return;
    }
    const beat = page().beat;
    const there = last.beat === beat && document.querySelector(`pestle-track[data-track="${last.track}"]`);
    last = { beat, track: there ? last.track : page().nextTrack, takes: there ? last.takes + 1 : 1 };
    const called = `${name || 'Voice'}, take ${last.takes}`;
    const [sample] = await comeIn([new File([file], `${called}.wav`, { type: 'audio/wav' })]);
    if (!sample) {
        return;
    }
    let id = null;
    const made = await change(() => {
        id = page().nextClip;

        return { type: 'add-clip', id, track: last.track, trackName: name || 'Voice', name: called, sample: sample.hash, rate: sample.rate, at: Math.round(ticksAt(frames(from) + late, songTime())), from: cut, to: Math.min(end, sample.frames), take: 1 };
    });
    if (made) {
        const url = new URL(location.href);
        url.searchParams.set('clip', id);
        url.searchParams.delete('moves');
        await goTo(url.pathname + url.search);
    }
}
