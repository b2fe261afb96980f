// What is on its way into the library: a row each, until it is there.

import { onPage } from './page.js';
import { ask } from './uploads.js';
import { pause } from './pause.js';

/** {name, text, part, failed, cancelled} */
let arrivals = [];

export function draw() {
    const place = document.getElementById('arrivals');
    if (!place) {
        return;
    }
    place.replaceChildren(...arrivals.map((arrival) => {
        const row = document.createElement('div');
        row.className = 'bar small mb-1';
        const name = document.createElement('b');
        name.textContent = arrival.name;
        const text = document.createElement('span');
        text.textContent = arrival.text;
        row.append(name, text);
        if (arrival.failed) {
            row.classList.add('text-paprika');
        } else {
            const progress = document.createElement('progress');
            progress.max = 1;
            progress.value = arrival.part;
            progress.className = 'w-40!';
            progress.setAttribute('aria-label', `Progress of ${arrival.name}`);
            row.append(progress);
        }
        const button = document.createElement('button');
        button.className = 'btn';
        button.textContent = arrival.failed ? 'Close' : 'Cancel';
        button.addEventListener('click', () => {
            arrival.cancelled = true;
            leave(arrival);
        });
        row.append(button);

        return row;
    }));
}

/** A new row. */
export function arrive(name, text, part = 0) {
    const arrival = { name, text, part };
    arrivals.push(arrival);
    draw();

    return arrival;
}

export function leave(arrival) {
    arrivals = arrivals.filter((a) => a !== arrival);
    draw();
}

/** Waits until an upload has become a sample. */
export async function arrived(id) {
    for (;;) {
        const state = await ask(`/uploads/${id}`);
        if (state.state === 'done') {
            return { ...state.sample, upload: id };
        }
        if (state.state === 'failed') {
            throw new Error(state.message);
        }
        await pause(120);
    }
}

onPage(draw);
