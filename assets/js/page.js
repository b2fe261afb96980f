// What the server said about this page, and the moment at which it said something new.

import { canTake, isToBeTouched } from './held.js';
import { NO_ANSWER } from './notice.js';
import { keepSettings } from './settings.js';
import { partOf } from './time.js';

export function app() {
    return document.getElementById('app');
}

/** Beat, head, chosen pattern and so on; null on pages without a beat. */
export function page() {
    return pageOf(app());
}

/** What was read last: it is asked for with every picture while something plays. */
let read = { data: '', page: null };

/** The tempo that is heard in place of the beat's, while it goes by somebody else's clock; null for its own. */
let other = null;

export function otherTempo() {
    return other;
}

export function setOtherTempo(bpm) {
    other = bpm;
}

/** How time goes in the song, and in what goes round. */
export function songTime() {
    return other ? { bpm: other, places: [], other: true } : { bpm: page().bpm, places: page().time.song };
}

/** @param {string} what is played: a range of the song by its ticks, or what goes round on this page */
export function loopTime(what = '') {
    if (other) {
        return { bpm: other, places: [], other: true };
    }
    const [bpm, { song, loop }] = [page().bpm, page().time];
    const [from, to] = what === page().loops ? [] : (/^(\d+)-(\d+)$/.exec(what) ?? []).slice(1).map(Number);

    return { bpm, places: to && song.length > 1 ? partOf(song, from, to) : loop };
}

function pageOf(element) {
    const data = element?.dataset.page;
    if (!data) {
        return null;
    }
    read = data === read.data ? read : { data, page: JSON.parse(data) };

    return read.page;
}

/** Calls back for the page as it is now, and after every time it was exchanged. */
export function onPage(callback) {
    document.addEventListener('pestle:page', callback);
}

export function announcePage() {
    document.dispatchEvent(new CustomEvent('pestle:page'));
}

/** Pages on their way, in whose name the last one was asked for, and whether what they show is known to be old by now. */
let loading = 0;
let asker = null;
let outdated = false;
/** So often in a row a page is asked for anew because what came is old already. */
const MOST_OLD = 5;
let old = 0;

/** Opens an address of Pestle in place, so that what plays goes on. Of several, the one asked for last is shown. */
export function goTo(url) {
    return load(url, new URL(url, location).href !== location.href);
}

/** Shows this page as it is now; a page that is on its way is followed by a newer one. */
export async function again() {
    outdated = true;
    if (loading === 0) {
        await load(location.pathname + location.search, false);
    }
}

async function load(url, isAnother) {
    // Each is asked for in its own name: those of one element would wait for one another.
    const own = document.createElement('span');
    own.setAttribute('hx-push-url', isAnother);
    document.body.append(own);
    asker = own;
    loading += 1;
    outdated = false;
    try {
        await htmx.ajax('GET', url, { source: own, target: '#app', swap: 'page' });
    } catch {
        // Nobody answered, which is said where it is heard of (see app.js).
    } finally {
        own.remove();
        loading -= 1;
    }
    if (outdated && loading === 0) {
        await again();
    }
}

document.addEventListener('htmx:beforeSwap', ({ detail }) => {
    if (detail.target === app() && detail.requestConfig.elt !== asker) {
        detail.shouldSwap = detail.isError = false;
    }
});

/** Shows a page that came as the answer to something else. */
export function showPage(html) {
    htmx.swap('#app', html, { swapStyle: 'page' }, { contextElement: app() });
}

// The swap named "page" changes this page into another one and touches only what differs: what has the focus keeps it.
htmx.defineExtension('page', {
    // What is sent as JSON keeps its numbers and lists.
    encodeParameters: (xhr, parameters) => parameters.get('json'),
    isInlineSwap: (style) => style === 'page',
    handleSwap(style, target, next) {
        if (style !== 'page') {
            return false;
        }
        const coming = pageOf(next.getElementById('app'));
        if (coming === null) {
            // No page of a beat: it is opened as what it is.
            location.reload();
        } else if (!canTake(next) || (isOvertaken(coming) && old < MOST_OLD)) {
            old += 1;
            again();
        } else {
            old = 0;
            keepSettings(next);
            Idiomorph.morph(target, next.getElementById('app'), { morphStyle: 'outerHTML', callbacks: { beforeNodeMorphed: isToBeTouched } });
            htmx.process(app());
            announcePage();
        }

        return true;
    },
});

/** Whether a page was made before the change that is shown already: the answers of two requests can cross. */
function isOvertaken(coming) {
    return coming.beat === page()?.beat && coming.head < page().head;
}

/** Reads an answer of the server as JSON, with a sentence when it failed. */
export async function failure(response) {
    try {
        return await response.json();
    } catch {
        return { error: NO_ANSWER };
    }
}
