// The form of a delivery: shows the files that will come.

import { onPage } from './page.js';
import { notice } from './notice.js';

function sync() {
    const form = document.getElementById('deliver-form');
    if (!form) {
        return;
    }
    const stems = form.elements.stems.value;
    for (const list of document.querySelectorAll('[data-stem-names]')) {
        list.hidden = list.dataset.stemNames !== stems;
    }
    const whole = form.elements.what.value === 'beat';
    for (const choice of form.elements.loop) {
        choice.disabled = whole;
    }
    form.elements.dither.disabled = form.elements.format.value === '32f';
}

document.addEventListener('change', (event) => {
    if (event.target.form?.id === 'deliver-form') {
        if (event.target.name === 'format') {
            // Few bits want dither; more have no need of it.
            const { dither } = event.target.form.elements;
            dither.checked = event.target.value === '16';
            dither.dispatchEvent(new Event('change', { bubbles: true }));
        }
        sync();
    }
});
document.addEventListener('htmx:afterRequest', (event) => {
    if (event.target.id === 'deliver-form') {
        document.querySelector('[data-none]')?.remove();
    }
});
document.addEventListener('htmx:responseError', (event) => {
    let text = 'Pestle did not answer as expected.';
    try {
        text = JSON.parse(event.detail.xhr.responseText).error;
    } catch { /* not an answer of ours */ }
    notice(text, { bad: true });
});
onPage(sync);
