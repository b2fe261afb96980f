// Sound as a WAV file with 32-bit floats.

import { RATE } from '../time.js';

/** @param {Array<[Float32Array, Float32Array]>} blocks left and right, one after the other */
export function wavOf(blocks) {
    const frames = blocks.reduce((sum, [left]) => sum + left.length, 0);
    const bytes = new ArrayBuffer(44 + frames * 8);
    const view = new DataView(bytes);
    const text = (at, letters) => [...letters].forEach((letter, i) => view.setUint8(at + i, letter.charCodeAt(0)));
    text(0, 'RIFF');
    view.setUint32(4, 36 + frames * 8, true);
    text(8, 'WAVEfmt ');
    [[16, 16, 4], [20, 3, 2], [22, 2, 2], [24, RATE, 4], [28, RATE * 8, 4], [32, 8, 2], [34, 32, 2]].forEach(([at, value, size]) => (size === 4 ? view.setUint32(at, value, true) : view.setUint16(at, value, true)));
    text(36, 'data');
    view.setUint32(40, frames * 8, true);
    const values = new Float32Array(bytes, 44);
    let at = 0;
    for (const [left, right] of blocks) {
        for (let i = 0; i < left.length; i += 1) {
            values[at++] = left[i];
            values[at++] = right[i];
        }
    }

    return bytes;
}
