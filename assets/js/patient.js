// What takes long is worked out beside the pages; asking again until it is there costs nothing.

const AGAIN_MS = 700;
const SOON_MS = 150;
const WORKED_OUT = 202;
const UNAVAILABLE = 503;

const pause = (ms) => new Promise((resolve) => { setTimeout(resolve, ms); });

/** As fetch(), for sound: where newer questions took its turn, it is asked again as long as it is wanted. */
export async function askSound(url, options = {}, wanted = () => true) {
    for (;;) {
        const response = await fetch(url, options);
        if (response.status !== UNAVAILABLE || !response.headers.has('Retry-After') || !wanted()) {
            return response;
        }
        await pause(SOON_MS);
    }
}

/** As fetch(), but for answers that are still being worked out: it tells how far they are (0 to 1, or null) and asks again. */
export async function patiently(url, told = () => {}, wanted = () => true) {
    for (;;) {
        const response = await askSound(url, {}, wanted);
        if (response.status !== WORKED_OUT) {
            return response;
        }
        const answer = await response.json();
        if (answer.working === undefined || !wanted()) {
            return { ok: false, status: WORKED_OUT, json: async () => answer };
        }
        told(answer.working);
        await pause(AGAIN_MS);
    }
}
