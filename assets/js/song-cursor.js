// The place of the song that is in hand: where it plays, or where was clicked last.

import { player } from './audio/player.js';
import { page } from './page.js';
import { songPlace } from './transport.js';

let [beat, at] = [null, 0];

/** Tick that was clicked last in this beat. */
export function cursor() {
    return beat === page()?.beat ? at : 0;
}

export function setCursor(tick) {
    [beat, at] = [page().beat, Math.max(0, Math.round(tick))];
    document.dispatchEvent(new Event('pestle:cursor'));
}

/** Tick at which something is put, or cut. */
export function hand() {
    return player.playing && player.what === 'song' ? Math.round(songPlace().ticks) : cursor();
}

/** Ticks of the snap in time; 0 where it is free. */
export function grid() {
    return Number(document.querySelector('[data-snap=time]')?.value ?? 0);
}

export function snapped(tick) {
    const by = grid();

    return Math.max(0, by ? Math.round(tick / by) * by : Math.round(tick));
}
