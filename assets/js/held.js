// What this page holds already: pieces that need not be sent again, and lists of which only what differs is sent.

/** Longer headers are refused by servers; of what is not told the whole is sent. */
const MOST_TOLD = 6000;
/** Lists by element and name, each with its hash. */
const lists = new WeakMap();

/** Hashes of all that is held, for the header of a change. */
export function heldHashes() {
    const pieces = [...document.querySelectorAll('[data-kept]')].map((piece) => piece.dataset.kept);
    const rows = [...document.querySelectorAll('[data-lists]')].flatMap((element) => Object.values(lists.get(element) ?? {}).map((list) => list.hash));

    return [...rows, ...pieces].join(' ').slice(0, MOST_TOLD);
}

/** Whether what a page leaves out is held here. */
export function canTake(next) {
    return [...next.querySelectorAll('[data-same]')].every((piece) => document.getElementById(piece.id)?.dataset.kept === piece.dataset.kept);
}

/** Idiomorph's question whether to touch a node. */
export function isToBeTouched(old, next) {
    // Some parts of a page are their own: what they show is nobody else's matter.
    return !(old.dataset && 'own' in old.dataset) && !(next.dataset && 'same' in next.dataset && old.dataset?.kept === next.dataset.kept);
}

/** The rows of a list of an element, or null when they do not follow from what is held: then the page has to be asked for anew. */
export function rowsOf(element, name) {
    const held = lists.get(element) ?? {};
    lists.set(element, held);
    const hash = element.dataset[`${name}Hash`];
    if (held[name]?.hash !== hash) {
        const rows = element.dataset[name] === undefined ? patched(held[name], element.dataset[`${name}Patch`]) : JSON.parse(element.dataset[name]);
        if (rows === null) {
            return null;
        }
        held[name] = { hash, rows };
    }

    return held[name].rows;
}

function patched(list, json) {
    const { base, take, put } = JSON.parse(json ?? '{}');
    if (!list || list.hash !== base) {
        return null;
    }
    const gone = new Set(take.map((row) => JSON.stringify(row)));

    return [...list.rows.filter((row) => !gone.has(JSON.stringify(row))), ...put].sort((a, b) => a[0] - b[0]);
}
