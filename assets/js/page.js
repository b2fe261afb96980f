// What the server said about this page, and the moment at which it said something new.

import { canTake, isToBeTouched } from './held.js';
import { keepSettings } from './settings.js';

export function app() {
    return document.getElementById('app');
}

/** Beat, head, chosen pattern and so on; null on pages without a beat. */
export function page() {
    return pageOf(app());
}

function pageOf(element) {
    const data = element?.dataset.page;

    return data ? JSON.parse(data) : null;
}

/** Calls back for the page as it is now, and after every time it was exchanged. */
export function onPage(callback) {
    document.addEventListener('pestle:page', callback);
}

export function announcePage() {
    document.dispatchEvent(new CustomEvent('pestle:page'));
}

/** So often a page is asked for when what comes is old already. */
const MOST_TRIES = 5;

let latest = 0;
let loading = 0;
let outdated = false;

/** Opens an address of Pestle in place, so that what plays goes on. Of several, the one asked for last is shown. */
export async function goTo(url) {
    latest += 1;
    const asked = latest;
    loading += 1;
    try {
        let html;
        let tries = 0;
        do {
            tries += 1;
            outdated = false;
            html = await (await fetch(url, { headers: { Accept: 'text/html' } })).text();
            if (asked !== latest) {
                return;
            }
            if (!html.includes('id="app"')) {
                location.href = url;

                return;
            }
        } while (tries < MOST_TRIES && (outdated || isOvertaken(html)));
        if (new URL(url, location).href !== location.href) {
            history.pushState(null, '', url);
        }
        showPage(html);
    } finally {
        loading -= 1;
    }
}

/** Whether a page was made before the change that is shown already: the answers of two requests can cross. */
function isOvertaken(html) {
    const next = pageOf(new DOMParser().parseFromString(html, 'text/html').getElementById('app'));
    const shown = page();

    return next !== null && next.beat === shown?.beat && next.head < shown.head;
}

/** Shows this page as it is now; a page that is on its way is asked for anew. */
export async function again() {
    outdated = true;
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
    if (!canTake(next)) {
        again();

        return;
    }
    document.title = next.title;
    keepSettings(next);
    Idiomorph.morph(app(), next.getElementById('app'), { morphStyle: 'outerHTML', callbacks: { beforeNodeMorphed: isToBeTouched } });
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
