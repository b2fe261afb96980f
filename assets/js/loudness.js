// Asks PHP how loud a section or the song is, also as it would be heard otherwise.

import { failure, page } from './page.js';
import { notice } from './notice.js';
import { askSound } from './patient.js';

/**
 * @param what  id of a section; '' for the song
 * @param hear  how it is heard otherwise; '' for as it is
 * @param told  called with how far it is, 0 to 1, of what takes long
 * @returns {Promise<object|null>} the measures; null when there are none, which was said
 */
export async function loudnessOf(what, hear = '', told = () => {}) {
    let answer;
    do {
        const response = await askSound(`/beats/${page().beat}/measure?what=${what}&hear=${encodeURIComponent(hear)}`, { headers: { Accept: 'application/json' } });
        if (!response.ok) {
            notice((await failure(response)).error, { bad: true });

            return null;
        }
        answer = await response.json();
        if (answer.more) {
            told(answer.done);
        }
    } while (answer.more);

    return answer.gone ? null : answer;
}
