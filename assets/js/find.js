// Search fields and filters whose answer is this page, made by the server: what was said last is asked for, once typing pauses; and
// lists that go on as far as they are scrolled.

import { again, onPage } from './page.js';

const PAUSE_MS = 180;
let waits = null;

/** Shows this page at another address. Of what is typed or scrolled, nothing is a place to go back to. */
function show(url) {
    history.replaceState(history.state, '', url);
    again();
}

function ask(target) {
    const fields = target.closest('[data-finds]')?.querySelectorAll('[name]') ?? [target];
    const url = new URL(target.dataset.find ?? target.closest('[data-finds]').dataset.finds, location);
    for (const { name, value } of fields) {
        if (value.trim() === '') {
            url.searchParams.delete(name);
        } else {
            url.searchParams.set(name, value.trim());
        }
    }
    show(url);
}

document.addEventListener('input', ({ target }) => {
    if (target.dataset?.find !== undefined || target.closest?.('[data-finds]')) {
        clearTimeout(waits);
        waits = setTimeout(ask, target.tagName === 'SELECT' ? 0 : PAUSE_MS, target);
    }
});

const reached = new IntersectionObserver((entries) => {
    const more = entries.find((entry) => entry.isIntersecting);
    if (more) {
        reached.disconnect();
        show(more.target.href);
    }
}, { rootMargin: '300px' });

onPage(() => {
    reached.disconnect();
    const more = document.querySelector('[data-more]');
    if (more) {
        reached.observe(more);
    }
});
