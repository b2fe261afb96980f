// What a clip becomes when it is moved, cropped or faded. Clips as the page tells them: at, in and out in ticks, from and
// to in frames, step in ticks a frame.

/** A clip is never cropped to less than so many frames. */
const LEAST = 64;

export function length(clip) {
    return (clip.to - clip.from) * clip.step;
}

/** Its start at a tick, as far as its recording goes; what is heard stays where it is. */
export function startAt(clip, tick) {
    const most = clip.to - clip.from - LEAST;
    const before = clip.reversed ? clip.frames - clip.to : clip.from;
    const frames = Math.max(-before, Math.ceil(-clip.at / clip.step), Math.min(most, Math.round((tick - clip.at) / clip.step)));
    const at = Math.max(0, Math.abs(clip.at + frames * clip.step - tick) <= clip.step ? tick : Math.round(clip.at + frames * clip.step));

    return { ...clip, at, ...(clip.reversed ? { to: clip.to - frames } : { from: clip.from + frames }) };
}

/** Its end at a tick, as far as its recording goes. */
export function endAt(clip, tick) {
    const most = clip.reversed ? clip.to : clip.frames - clip.from;
    const frames = Math.max(LEAST, Math.min(most, Math.round((tick - clip.at) / clip.step)));

    return { ...clip, ...(clip.reversed ? { from: clip.to - frames } : { to: clip.from + frames }) };
}

/** So long faded in or out, in ticks; not longer than the other end leaves. */
export function faded(clip, end, ticks) {
    const rest = length(clip) - (end === 'in' ? clip.out : clip.in);

    return { ...clip, [end]: Math.max(0, Math.min(rest, ticks)) };
}

/** Gain at a place of it, 0 at its start to 1 at its end, with the table of gains of each shape. */
export function gainAt(clip, place, shapes) {
    const at = place * length(clip);
    const left = length(clip) - at;
    let gain = clip.gain;
    if (at < clip.in) {
        gain *= along(shapes[clip.inShape], at / clip.in);
    }
    if (left < clip.out) {
        gain *= along(shapes[clip.outShape], left / clip.out);
    }

    return gain;
}

function along(table, place) {
    const at = Math.max(0, Math.min(1, place)) * (table.length - 1);
    const i = Math.min(table.length - 2, Math.floor(at));

    return table[i] + (at - i) * (table[i + 1] - table[i]);
}
