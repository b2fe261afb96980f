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

/** Asks for this page, as it is by now, with what was typed. */
function ask(address, typed) {
    const base = document.querySelector(`[${address}]`)?.getAttribute(address);
    if (base === undefined) {
        return;
    }
    const url = new URL(base, location);
    for (const [name, value] of typed) {
        if (value === '') {
            url.searchParams.delete(name);
        } else {
            url.searchParams.set(name, value);
        }
    }
    show(url);
}

document.addEventListener('input', ({ target }) => {
    const among = target.closest?.('[data-finds]');
    if (target.dataset?.find !== undefined || among) {
        // Read now: an answer to what was typed before may redraw the fields meanwhile.
        const typed = [...among?.querySelectorAll('[name]') ?? [target]].map(({ name, value }) => [name, value.trim()]);
        clearTimeout(waits);
        waits = setTimeout(ask, target.tagName === 'SELECT' ? 0 : PAUSE_MS, among ? 'data-finds' : 'data-find', typed);
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
