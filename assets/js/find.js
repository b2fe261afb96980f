// Search fields whose answer is this page, made by the server: what was typed last is asked for, once typing pauses.

import { again } from './page.js';

const PAUSE_MS = 180;
let waits = null;

document.addEventListener('input', ({ target }) => {
    if (target.dataset?.find) {
        clearTimeout(waits);
        waits = setTimeout(() => {
            const url = new URL(target.dataset.find, location);
            url.searchParams.set(target.name, target.value);
            // Of what is typed, no letter is a place to go back to.
            history.replaceState(history.state, '', url);
            again();
        }, PAUSE_MS);
    }
});
