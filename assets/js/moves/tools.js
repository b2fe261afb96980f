// The tools a movement is drawn with: what its points become as the pointer goes.

import { exchanged, shareOf, valueAt, valueOf } from '../curve.js';

/**
 * @param name of the tool: hand, line, steps, peak or rub
 * @param from was (points before), start and grid (ticks), inTime (snaps a tick), set (the value where nothing moves)
 *
 * @return draw, which gives the points for a place, and raw, what a hand drew
 */
export function drawn(name, { was, start, grid, inTime, set }) {
    const raw = [];
    const value = (tick) => valueAt(was, tick);
    const tools = {
        hand: (to) => {
            raw.push([to.tick, to.value]);
            raw.sort((a, b) => a[0] - b[0]);

            return exchanged(was, raw[0][0], raw.at(-1)[0], raw.map(([tick, v]) => [tick, v, 0]));
        },
        line: (to) => {
            const [a, b] = [[inTime(start.tick), start.value, 0], [inTime(to.tick), to.value, 0]];
            const ends = a[0] <= b[0] ? [a, b] : [b, a];

            return a[0] === b[0] ? exchanged(was, a[0], a[0], [b]) : exchanged(was, ends[0][0], ends[1][0], ends);
        },
        steps: (to) => {
            raw.push([Math.floor(to.tick / grid) * grid, to.value]);
            const cells = [...new Map(raw)].sort((a, b) => a[0] - b[0]);
            const end = cells.at(-1)[0] + grid;

            return exchanged(was, cells[0][0], end, [...cells.map(([tick, v]) => [tick, v, 1]), [end, value(end), 0]]);
        },
        peak: (to) => {
            const from = Math.floor(start.tick / grid) * grid;

            return exchanged(was, from, from + grid, [[from, value(from), 0], [from + grid / 2, to.value, 0], [from + grid, value(from + grid), 0]]);
        },
        rub: (to) => {
            const [from, until] = [Math.min(start.tick, to.tick), Math.max(start.tick, to.tick)];
            const left = was.filter(([tick]) => tick < from || tick > until);

            return left.length > 0 ? left : [[0, set, 0]];
        },
    };

    return { draw: tools[name], raw };
}

/** Points with some of them shifted in time and by a share of the scale, none past a neighbour that stays. */
export function shifted(points, chosen, ticks, share, scale) {
    return points.map((point, i) => {
        if (!chosen.has(i)) {
            return point;
        }
        const neighbour = (step) => {
            let k = i + step;
            while (chosen.has(k)) {
                k += step;
            }

            return points[k]?.[0];
        };
        const tick = Math.max(neighbour(-1) ?? 0, Math.min(neighbour(1) ?? Infinity, point[0] + ticks));

        return [tick, Number(valueOf(scale, shareOf(scale, point[1]) + share).toFixed(4)), point[2]];
    });
}
