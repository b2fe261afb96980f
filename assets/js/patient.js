// What takes long is worked out beside the pages; asking again until it is there costs nothing.

const AGAIN_MS = 700;

/** As fetch(), but for answers that are still being worked out: it tells how far they are (0 to 1, or null) and asks again. */
export async function patiently(url, told = () => {}, wanted = () => true) {
    for (;;) {
        const response = await fetch(url);
        if (response.status !== 202) {
            return response;
        }
        const answer = await response.json();
        if (answer.working === undefined || !wanted()) {
            return { ok: false, status: 202, json: async () => answer };
        }
        told(answer.working);
        await new Promise((resolve) => { setTimeout(resolve, AGAIN_MS); });
    }
}
