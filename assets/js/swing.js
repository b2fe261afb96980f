// Where swing lets a written tick be heard: Theory\Swing, for what is drawn and rolled between two answers of the server.

/** As PHP's: so near a triplet place, in ticks, counts as on it. */
const NEAR = 1.5;

/** @param feel swing in percent, the ticks of the halves of a pair, and the rules of the beat */
export function swung(tick, { swing, swingOn: half, rules }) {
    const within = tick % (2 * half);
    const triplet = Math.round(within / half * 3);
    if (rules > 1 && triplet % 3 !== 0 && Math.abs(within - triplet * half / 3) <= NEAR) {
        return tick;
    }
    const middle = 2 * half * swing / 100;

    return tick - within + (within < half ? within * middle / half : middle + (within - half) * (2 * half - middle) / half);
}
