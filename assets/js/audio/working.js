// While a lighter sound stands for edits that are worked out, it is told, and looked again until they are there.

import { notice } from '../notice.js';

const AGAIN_MS = 1500;

export class Working {
    #waiting = null;

    /** @param again looks again */
    constructor(again) {
        this.again = again;
    }

    /** @param {number|undefined} progress 0 to 1; undefined when all is there */
    tell(progress) {
        clearTimeout(this.#waiting);
        if (progress !== undefined) {
            notice(`Edits are being worked out: ${Math.round(100 * progress)} %. Until then you hear a lighter version.`);
            this.#waiting = setTimeout(this.again, AGAIN_MS);
        }
    }
}
