// Bars of what is performed become a sound, which lands on a free pad.

import { arrive, arrived, draw, leave } from '../arrivals.js';
import { fillPad } from '../dock.js';
import { notice } from '../notice.js';
import { page } from '../page.js';
import { ask } from '../uploads.js';

/** @param fields {bars, at, wet}: how many, the tick before which they end, whether through the mixer */
export async function catchBars(fields) {
    const arrival = arrive('What was performed', 'rendering', 0.5);
    try {
        const { id } = await ask(`/beats/${page().beat}/live/catch`, { method: 'POST', body: JSON.stringify(fields), headers: { 'Content-Type': 'application/json' } });
        const sample = await arrived(id);
        leave(arrival);
        const pad = document.querySelector('.pad[data-free]')?.dataset.free;
        if (!pad) {
            notice(`${sample.name} is in the library. No pad of this bank is free: open another at the end of the dock.`);
        } else if (await fillPad(pad, sample)) {
            notice(`${sample.name} is on a pad.`);
        }
    } catch (problem) {
        Object.assign(arrival, { failed: true, text: problem.message });
        draw();
        notice(problem.message, { bad: true });
    }
}
