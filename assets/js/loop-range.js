// What goes round: the section, or on the line of time the range that was drawn on its ruler.

import { page } from './page.js';

let range = null;

/** {from, to} in ticks of the song; null where none was drawn. */
export function rangeOf(now) {
    return range?.beat === now?.beat && document.getElementById('time-rows') ? range : null;
}

/** @param {{from: number, to: number}|null} now */
export function setRange(now) {
    range = now && now.to > now.from ? { ...now, beat: page().beat } : null;
    document.dispatchEvent(new Event('pestle:range'));
}

/** What is asked for as the loop of a page. */
export function loopOf(now) {
    const drawn = rangeOf(now);

    return drawn ? `${drawn.from}-${drawn.to}` : now.loops;
}

/** Tick of the song at which a loop begins that is a range of it; null for a section. */
export function loopStart(name) {
    return /^\d+-\d+$/.test(name ?? '') ? Number(name.split('-')[0]) : null;
}
