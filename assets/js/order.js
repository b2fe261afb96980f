// The order of patterns: add, repeat, move, take out.

import { change } from './changes.js';

function parts() {
    return JSON.parse(document.querySelector('[data-order]').dataset.order);
}

function set(next) {
    change({ type: 'set-order', parts: next });
}

document.addEventListener('click', (event) => {
    const button = event.target.closest('[data-order-add], [data-order-remove], [data-order-earlier]');
    if (!button) {
        return;
    }
    const next = parts();
    const { orderAdd, orderRemove, orderEarlier } = button.dataset;
    if (orderAdd) {
        next.push({ pattern: orderAdd, repeats: 1 });
    } else if (orderRemove) {
        next.splice(Number(orderRemove), 1);
    } else {
        next.splice(Number(orderEarlier) - 1, 0, ...next.splice(Number(orderEarlier), 1));
    }
    set(next);
});

document.addEventListener('change', (event) => {
    const index = event.target.dataset?.orderRepeats;
    if (index !== undefined) {
        const next = parts();
        next[Number(index)].repeats = Number(event.target.value);
        set(next);
    }
});
