// Ticks and frames on a line whose tempo may move: the core says places between which both go evenly.

/** Frames a second of all that plays. */
export const RATE = 44100;

/** @typedef {{bpm: number, places: Array<[number, number]>}} Time places: tick and seconds; none where it is one tempo */

function between(value, places, from, to) {
    let [low, high] = [0, places.length - 2];
    while (low < high) {
        const middle = Math.ceil((low + high) / 2);
        [low, high] = places[middle][from] <= value ? [middle, high] : [low, middle - 1];
    }
    const [a, b] = [places[low], places[low + 1]];

    return a[to] + (value - a[from]) * (b[to] - a[to]) / (b[from] - a[from]);
}

export function framesAt(ticks, { bpm, places }) {
    return (places.length > 1 ? between(ticks, places, 0, 1) : ticks / 16 / bpm) * RATE;
}

export function ticksAt(frames, { bpm, places }) {
    return places.length > 1 ? between(frames / RATE, places, 1, 0) : frames / RATE * bpm * 16;
}

/** Quarters a minute at a tick. */
export function bpmAt(ticks, time) {
    return RATE * 60 / (framesAt(ticks + 960, time) - framesAt(ticks, time));
}

/** Place in ticks of what goes round, at a frame of its pass; the sound itself says how long it is. */
export function loopTicks(frame, { frames, ticks, places = [] }) {
    return places.length > 1 ? ticksAt(frame, { places }) : frame * ticks / frames;
}

export function loopFrames(tick, { frames, ticks, places = [] }) {
    return places.length > 1 ? framesAt(tick, { places }) : tick * frames / ticks;
}

/** The places of a stretch of a line, counted from its start. */
export function partOf(places, from, to) {
    const [begin, end] = [between(from, places, 0, 1), between(to, places, 0, 1)];

    return [[0, 0], ...places.filter(([tick]) => tick > from && tick < to).map(([tick, seconds]) => [tick - from, seconds - begin]), [to - from, end - begin]];
}

/** Whether two lines go as fast all along. */
export function sameTime(a, b) {
    return a.bpm === b.bpm && JSON.stringify(a.places) === JSON.stringify(b.places);
}
