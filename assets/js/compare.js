// Compares the mix with one that was kept, or with itself before its master, at the same loudness; and the song with what it was
// before the last change: by one key.

import { loudnessOf } from './loudness.js';
import { notice } from './notice.js';
import { onPage, page } from './page.js';
import { player } from './audio/player.js';

/** By what: 'mix/ID' or 'unmastered'; the last one is what the key brings. */
let other = '';
let busy = false;
/** Loudness in LUFS by what was measured. */
const known = new Map();

async function loudness(hear) {
    const now = page();
    const name = [now.beat, now.head, now.section, hear].join();
    if (!known.has(name)) {
        const measured = await loudnessOf(now.section, hear);
        if (!measured) {
            return null;
        }
        known.set(name, measured.integratedLufs);
    }

    return known.get(name);
}

function nameOf(hear) {
    const name = document.querySelector(`[data-compare-with="${hear}"]`)?.dataset.name ?? 'the other';

    return hear.startsWith('mix/') ? `“${name}”` : name;
}

/** Whether two mixes are being compared, and by which the other is heard. */
function show() {
    for (const button of document.querySelectorAll('[data-compare-with]')) {
        button.setAttribute('aria-pressed', String(player.hearing === button.dataset.compareWith));
    }
}

async function hear(how) {
    if (busy) {
        return;
    }
    if (how === '' || player.hearing === how) {
        player.hear('');
        notice('The mix as it is now.', { seconds: 3 });
        show();

        return;
    }
    busy = true;
    try {
        if (document.querySelector(`[data-compare-with="${how}"]`).hasAttribute('data-as-it-is')) {
            other = how;
            player.hear(how);
            notice(`You hear ${nameOf(how)}. B goes back.`, { seconds: 6 });

            return;
        }
        const [here, there] = [await loudness(''), await loudness(how)];
        if (here === null || there === null) {
            return;
        }
        other = how;
        const gain = Math.round(10 * (here - there)) / 10;
        // What is silent has no loudness to go by; what would have to be lifted far would clip.
        const by = Math.max(-30, Math.min(6, gain));
        player.hear(how, by);
        notice(`You hear ${nameOf(how)}, ${by === 0 ? 'as loud as the mix is now' : `${Math.abs(by).toFixed(1)} dB ${by < 0 ? 'softer' : 'louder'} than it is, to be as loud as the mix is now`}. B goes back.`, { seconds: 6 });
    } finally {
        busy = false;
        show();
    }
}

/** The song as it was before the last change, and back. */
function compareBefore() {
    const undo = document.querySelector('[data-undo]');
    if (player.hearing !== '') {
        player.hear('');
        notice('As it is now.', { seconds: 3 });
    } else if (undo.disabled) {
        notice('Nothing was changed yet: there is nothing to compare with.');
    } else {
        player.hear('before');
        notice(`You hear it as it was before “${undo.querySelector('.truncate').textContent}”. B goes back.`, { seconds: 6 });
    }
}

/** The key: to the other and back. */
export function compareMixes() {
    if (document.getElementById('time-rows')) {
        compareBefore();

        return true;
    }
    if (page()?.workspace !== 'mix') {
        return false;
    }
    const all = [...document.querySelectorAll('[data-compare-with]')].map((button) => button.dataset.compareWith);
    const how = all.includes(other) ? other : all.findLast((one) => one.startsWith('mix/')) ?? all[0];
    if (player.hearing !== '') {
        hear('');
    } else if (how) {
        hear(how);
    }

    return true;
}

document.addEventListener('click', (event) => {
    const button = event.target.closest('[data-compare-with]');
    if (button) {
        hear(button.dataset.compareWith);
    }
});
onPage(() => {
    const there = player.hearing === '' || player.hearing.startsWith('band/') || document.querySelector(`[data-compare-with="${player.hearing}"]`);
    if (page()?.workspace !== 'mix' || !there) {
        if (player.hearing !== '') {
            player.hear('');
        }
    }
    show();
});
