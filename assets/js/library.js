// What the maker says about samples: corrections of guesses, names, tags, favourites; clearing out; each can be taken back.

import { again, app, failure, onPage, page } from './page.js';
import { notice } from './notice.js';

/** Says something to the library; null when it was refused, which was said. */
export async function post(url, data) {
    const response = await fetch(url, { method: 'POST', body: JSON.stringify(data), headers: { 'Content-Type': 'application/json', 'X-Pestle-Token': app().dataset.token } });
    const answer = await failure(response);
    if (!response.ok) {
        notice(answer.error, { bad: true });

        return null;
    }

    return answer;
}

let corrections = Promise.resolve(null);

/** Corrects something at an address of the library, one after another; gives what was there before, or null. */
export function correct(what, facts) {
    corrections = corrections.then(async () => {
        const answer = await post(`/library/${what}`, facts);
        await again();

        return answer;
    }).catch(() => null);

    return corrections;
}

/** Says something about a sample; the line that reports it takes it back. */
export async function say(sample, facts, words) {
    const answer = await correct(sample, facts);
    if (answer) {
        document.dispatchEvent(new CustomEvent('pestle:corrected', { detail: { sample, label: words || 'Correction', before: answer.before } }));
    }
    if (answer && words) {
        notice(words, { actions: { Undo: () => document.querySelector('[data-undo]')?.click() } });
    }
}

async function clearOut(button) {
    const words = button.dataset.clear;
    if (button.dataset.sure === undefined) {
        button.dataset.sure = '';
        button.textContent = `Take away ${words}?`;

        return;
    }
    const answer = await post('/library/clear', {});
    if (answer) {
        await again();
        notice(`${answer.cleared.length} sounds (${(answer.bytes / 1e6).toFixed(1)} MB) are out of the library.`, { actions: { 'Bring them back': async () => { await post('/library/restore', { samples: answer.cleared }); await again(); } } });
    }
}

document.addEventListener('click', (event) => {
    const button = event.target.closest('button');
    if (button?.dataset.say) {
        say(button.dataset.of, JSON.parse(button.dataset.say), button.dataset.words ?? 'Set.');
    } else if (button && 'clear' in button.dataset) {
        clearOut(button);
    }
});

document.addEventListener('change', (event) => {
    const { fact, of } = event.target.dataset ?? {};
    if (fact) {
        say(of, { [fact]: event.target.value === '' ? null : event.target.value }, 'Corrected.');
    }
});

// While a sample is still listened to, look again.
let waiting = null;
onPage(() => {
    clearTimeout(waiting);
    if (document.querySelector('[data-listening]') && ['gather', 'chop'].includes(page()?.workspace)) {
        waiting = setTimeout(again, 1500);
    }
});
