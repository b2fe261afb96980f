// Meters of the mixer, drawn behind the faders.

import { onFrame } from './frames.js';
import { onPage, page } from './page.js';
import { player } from './audio/player.js';
import { drawBars } from './meters.js';
import { fill } from './sized.js';
import { write } from './write.js';

/** Where in the sound the levels are drawn for; nowhere while it stands still, and what is held falls. */
let shown = null;

function frame() {
    if (page()?.workspace === 'mix') {
        const now = player.meters();
        const stays = now !== null && shown === now.column;
        shown = now?.column ?? null;
        for (const canvas of document.querySelectorAll('canvas[data-meter]')) {
            const resized = fill(canvas, canvas.parentElement);
            if (stays && !resized) {
                continue;
            }
            const peaks = canvas.dataset.meter === 'master' ? now?.meters.mix : now?.meters.channels[canvas.dataset.meter];
            drawBars(canvas, peaks?.[2 * now.column] ?? 0, peaks?.[2 * now.column + 1] ?? 0, 12, resized);
        }
        const live = document.querySelector('[data-live-loudness]');
        const told = (values) => (values?.[now?.column] ?? -70) > -70 ? values[now.column].toFixed(1).replace('-', '−') : '−∞';
        const { momentary, shortTerm, rms } = now?.meters.loudness ?? {};
        if (live) {
            write(live, now ? `now ${told(momentary)}, 3 s ${told(shortTerm)} LUFS, RMS ${told(rms)} dB` : '');
        }
        for (const label of document.querySelectorAll('[data-reduction]')) {
            const steps = now?.meters.reductions[label.dataset.reduction];
            const db = steps?.[now.column] ?? 0;
            write(label, `${db.toFixed(1).replace('-', '−')} dB`);
        }
    }
}
onFrame(frame);

// A line that opens further down is brought into view with all that opens with it.
let open = null;
onPage(() => {
    const line = document.querySelector('.channel[data-chosen]');
    if (line && line.dataset.channel !== open) {
        document.querySelector('.route')?.scrollIntoView({ block: 'nearest' });
        line.scrollIntoView({ block: 'nearest' });
    }
    open = line?.dataset.channel ?? null;
});
