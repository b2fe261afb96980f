// Beside the wave in Chop's Fit: notes to compare by ear, and another loop in this one's place.

import { audition } from './audio/pads.js';
import { change } from './changes.js';
import { goTo } from './page.js';
import { notice } from './notice.js';

function chosen() {
    const option = document.querySelector('[data-exchange]')?.selectedOptions[0];

    return option?.value ? { ...option.dataset, exchange: JSON.parse(option.dataset.with) } : null;
}

async function hear(url) {
    try {
        await audition(url);
    } catch (problem) {
        notice(problem.message, { bad: true });
    }
}

async function exchange() {
    const { exchange: fields, fit } = chosen();
    if (await change(fields)) {
        const url = new URL(location.href);
        url.searchParams.set('sample', fields.with);
        await goTo(url.pathname + url.search);
        notice(`${fields.withName} in place of ${fields.name}: ${fit}.`);
    }
}

document.addEventListener('click', (event) => {
    const button = event.target.closest?.('[data-notes], [data-exchange-now], [data-exchange-listen]');
    if (!button) {
        return;
    }
    if (button.dataset.notes) {
        hear(`/notes/${button.dataset.notes}`);
    } else if ('exchangeNow' in button.dataset) {
        exchange();
    } else {
        const { exchange: fields } = chosen();
        hear(`/samples/${fields.with}/sound?${new URLSearchParams({ edits: JSON.stringify(fields.edits) })}`);
    }
});
document.addEventListener('change', (event) => {
    if (event.target.dataset && 'exchange' in event.target.dataset) {
        document.getElementById('exchange-words').textContent = chosen()?.fit ?? '';
        for (const button of document.querySelectorAll('[data-exchange-now], [data-exchange-listen]')) {
            button.disabled = !chosen();
        }
    }
});
