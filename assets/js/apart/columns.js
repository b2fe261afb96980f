// An outline on pixels.

/**
 * The largest byte of each pixel's stretch.
 *
 * @param outline bytes of the stretches that are there
 * @param count   how many there will be
 */
export function columns(outline, width, count) {
    const out = new Uint8Array(width);
    for (let i = 0; i < outline.length; i += 1) {
        const x = Math.min(width - 1, Math.floor(i / count * width));
        out[x] = Math.max(out[x], outline[i]);
    }
    // Where there are fewer stretches than pixels, each is as wide as it lasts.
    for (let x = 1; count < width && x < width; x += 1) {
        out[x] = out[x] || (x / width * count < outline.length ? out[x - 1] : 0);
    }

    return out;
}
