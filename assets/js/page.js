// What the server said about this page, and the moment at which it said something new.

import { keepSettings } from './settings.js';

export function app() {
    return document.getElementById('app');
}

/** Beat, head, chosen pattern and so on; null on pages without a beat. */
export function page() {
    const data = app()?.dataset.page;

    return data ? JSON.parse(data) : null;
}

/** Calls back for the page as it is now, and after every time it was exchanged. */
export function onPage(callback) {
    document.addEventListener('pestle:page', callback);
}

export function announcePage() {
    document.dispatchEvent(new CustomEvent('pestle:page'));
}

let latest = 0;
let loading = 0;

/** Opens an address of Pestle in place, so that what plays goes on. Of several, the one asked for last is shown. */
export async function goTo(url) {
    latest += 1;
    const asked = latest;
    loading += 1;
    try {
        const response = await fetch(url, { headers: { Accept: 'text/html' } });
        const html = await response.text();
        if (asked !== latest) {
            return;
        }
        if (!html.includes('id="app"')) {
            location.href = url;

            return;
        }
        history.pushState(null, '', url);
        showPage(html);
    } finally {
        loading -= 1;
    }
}

/** Shows this page as it is now; nothing to do while another is on its way. */
export async function again() {
    if (loading === 0) {
        await goTo(location.pathname + location.search);
    }
}

/**
 * Changes this page into another one, touching only what differs: what has the focus keeps it.
 * (Done without htmx, which holds back the attributes of elements with an id.)
 */
export function showPage(html) {
    const next = new DOMParser().parseFromString(html, 'text/html');
    document.title = next.title;
    keepSettings(next);
    Idiomorph.morph(app(), next.getElementById('app'), { morphStyle: 'outerHTML' });
    htmx.process(app());
    announcePage();
}

/** Reads an answer of the server as JSON, with a sentence when it failed. */
export async function failure(response) {
    try {
        return await response.json();
    } catch {
        return { error: 'Pestle did not answer as expected. Is it still running?' };
    }
}
