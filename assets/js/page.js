// What the server said about this page, and the moment at which it said something new.

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

export async function goTo(url) {
    history.pushState(null, '', url);
    await htmx.ajax('GET', url, { target: '#app', select: '#app', swap: 'morph:outerHTML' });
}

export function showPage(html) {
    htmx.swap('#app', html, { swapStyle: 'morph:outerHTML', swapDelay: 0, settleDelay: 0 }, { select: '#app' });
}

/** Reads an answer of the server as JSON, with a sentence when it failed. */
export async function failure(response) {
    try {
        return await response.json();
    } catch {
        return { error: 'Pestle did not answer as expected. Is it still running?' };
    }
}
