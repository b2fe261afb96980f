// A movement's curve as PHP's Curve has it: to be drawn. What sounds is worked out by PHP.

/** Its value at a tick. Points are [tick, value, bend towards the next]. */
export function valueAt(points, tick) {
    let next = 0;
    while (next < points.length && points[next][0] <= tick) {
        next += 1;
    }
    if (next === 0 || next === points.length) {
        return points[Math.min(next, points.length - 1)][1];
    }
    const [from, value, bend] = points[next - 1];
    const [to, end] = points[next];
    const way = (tick - from) / (to - from);

    return value + (end - value) * bent(way, bend);
}

function bent(way, bend) {
    if (bend === 1 || bend === -1) {
        return bend === 1 ? 0 : 1;
    }

    return bend === 0 ? way : way ** (2 ** (4 * bend));
}

/** Where a value lies on its scale, 0 to 1, and back. */
export function shareOf({ least, most, bend }, value) {
    return (Math.max(0, Math.min(1, (value - least) / (most - least)))) ** (1 / bend);
}

export function valueOf({ least, most, bend }, share) {
    return least + (most - least) * Math.max(0, Math.min(1, share)) ** bend;
}

/** The points with those between two ticks exchanged for others; what comes after goes on as it was. */
export function exchanged(points, from, to, others) {
    return [...points.filter(([tick]) => tick < from), ...others, ...points.filter(([tick]) => tick > to)];
}
