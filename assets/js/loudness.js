// Asks PHP how loud a section or the song is, also as it would be heard otherwise.

import { page } from './page.js';
import { notice } from './notice.js';
import { askMeasured } from './patient.js';

/**
 * @param what  id of a section; '' for the song
 * @param hear  how it is heard otherwise; '' for as it is
 * @param told  called with how far it is, 0 to 1, of what takes long
 * @returns {Promise<object|null>} the measures; null when there are none, which was said
 */
export async function loudnessOf(what, hear = '', told = () => {}) {
    let answer;
    do {
        const measured = await askMeasured(`/beats/${page().beat}/measure?what=${what}&hear=${encodeURIComponent(hear)}`);
        if (measured.problem) {
            notice(measured.problem, { bad: true });

            return null;
        }
        ({ answer } = measured);
        if (answer.more) {
            told(answer.done);
        }
    } while (answer.more);

    return answer.gone ? null : answer;
}
