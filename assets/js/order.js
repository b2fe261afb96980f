// The order of patterns: add, repeat, move, take out.

import { change } from './changes.js';

function parts() {
    return JSON.parse(document.querySelector('[data-order]')?.dataset.order ?? 'null');
}

/** Changes the order as it is when its turn has come. */
function set(edit) {
    const asked = parts();
    change(() => {
        const next = parts() ?? asked;
        edit(next);

        return { type: 'set-order', parts: next };
    });
}

document.addEventListener('click', (event) => {
    const button = event.target.closest('[data-order-add], [data-order-remove], [data-order-earlier]');
    if (!button) {
        return;
    }
    const { orderAdd, orderRemove, orderEarlier } = button.dataset;
    if (orderAdd) {
        set((next) => next.push({ pattern: orderAdd, repeats: 1 }));
    } else if (orderRemove) {
        set((next) => next.splice(Number(orderRemove), 1));
    } else {
        set((next) => next.splice(Number(orderEarlier) - 1, 0, ...next.splice(Number(orderEarlier), 1)));
    }
});

document.addEventListener('change', (event) => {
    const index = event.target.dataset?.orderRepeats;
    if (index !== undefined) {
        const repeats = Number(event.target.value);
        set((next) => { next[Number(index)].repeats = repeats; });
    }
});
