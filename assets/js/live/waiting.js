// What of a performance plays now, and what waits.

/** What a part plays at a tick: {pattern, muted}; null before it began. */
export function playsAt(state, part, tick) {
    return state?.rows.find((row) => row.part === part)?.spans.findLast(({ from }) => from <= tick) ?? null;
}

/**
 * Whether what can be chosen plays, and when it comes: {plays, choice, tick}.
 *
 * @param says  {mute: part}, or {patterns: by part, '' for nothing}
 * @param state as the server tells it
 * @param now   tick
 */
export function whenOf(says, state, now) {
    const waiting = (state?.choices ?? []).filter(({ tick }) => tick > now);
    if (says.mute) {
        const silent = Boolean(playsAt(state, says.mute, now)?.muted);
        const comes = waiting.find(({ muted }) => says.mute in muted && muted[says.mute] !== silent);

        return { plays: silent, choice: comes?.id, tick: comes?.tick };
    }
    const its = Object.entries(says.patterns);
    const comes = waiting.find(({ patterns }) => Object.keys(patterns).length === its.length && its.every(([part, id]) => part in patterns && (patterns[part] ?? '') === id));

    return { plays: its.every(([part, id]) => (playsAt(state, part, now)?.pattern ?? '') === id), choice: comes?.id, tick: comes?.tick };
}

/** In words, beside what can be chosen. */
export function whenWords(says, { plays, tick }, now, bar) {
    if (tick === undefined) {
        return plays ? (says.mute ? 'silent' : 'plays') : '';
    }
    const bars = Math.ceil((tick - now) / bar);

    return bars <= 1 ? 'with the bar' : `in ${bars} bars`;
}

/** Ticks of the last bars that can become the song: {from, to}; all of it where none are said. */
export function lastBars(now, bar, bars) {
    const whole = Math.max(1, Math.ceil(now / bar));

    return { from: bars > 0 ? Math.max(0, whole - bars) * bar : 0, to: whole * bar };
}
