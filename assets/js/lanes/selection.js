// Several hits of the lanes chosen at once, by a frame or all of them; what is done with them is one change.

import { change } from '../changes.js';
import { goTo } from '../page.js';
import { ROW, TOP } from './drawing.js';

const keyOf = (hit) => `${hit.tick} ${hit.pad}`;

export class LanesSelection {
    #frame = null;

    /**
     * @param element the lanes
     * @param view    of its hits; `picked` holds the keys of those chosen
     * @param send    what puts hits and takes others, as one change
     */
    constructor(element, view, drawing, send) {
        Object.assign(this, { element, view, drawing, send });
    }

    get hits() {
        return this.view.hits.filter((hit) => this.view.picked.has(keyOf(hit)));
    }

    get frame() {
        return this.#frame;
    }

    choose(hits) {
        this.view.picked = new Set(hits.map(keyOf));
        this.show();
    }

    begin(x, y) {
        this.#frame = { x, y, toX: x, toY: y };
    }

    stretch(x, y) {
        Object.assign(this.#frame, { toX: x, toY: y });
    }

    /** What lies in the frame is chosen beside what is; a frame that was not drawn out chooses one hit, or no longer. */
    end(hit) {
        const { x, y, toX, toY } = this.#frame;
        this.#frame = null;
        if (Math.hypot(toX - x, toY - y) < 4) {
            if (hit && !this.view.picked.delete(keyOf(hit))) {
                this.view.picked.add(keyOf(hit));
            }
        } else {
            const row = (place) => Math.floor((place - TOP) / ROW);
            const [left, right] = [Math.min(x, toX), Math.max(x, toX)];
            const [first, last] = [row(Math.min(y, toY)), row(Math.max(y, toY))];
            const pads = new Set(this.view.lanes.slice(Math.max(0, first), last + 1).flatMap((lane) => lane.pads));
            const inside = (one) => pads.has(one.pad) && this.drawing.heard(one).x + 8 >= left && this.drawing.heard(one).x + 2 <= right;
            this.view.picked = new Set([...this.view.picked, ...this.view.hits.filter(inside).map(keyOf)]);
        }
        this.show();
    }

    giveUp() {
        this.#frame = null;
        this.choose([]);
    }

    louder(by) {
        const { hits } = this;
        for (const hit of hits) {
            hit.velocity = Math.max(1, Math.min(127, hit.velocity + by));
        }
        this.send('velocity', hits);
    }

    /** Later by so many ticks, as far as the pattern goes. */
    move(ticks) {
        const { hits } = this;
        const from = hits.map((hit) => ({ ...hit }));
        const [least, most] = [-Math.min(...hits.map((hit) => hit.tick)), this.view.ticks - 1 - Math.max(...hits.map((hit) => hit.tick))];
        const way = Math.max(least, Math.min(most, ticks));
        if (way !== 0) {
            for (const hit of hits) {
                hit.tick += way;
                this.view.felt.delete(keyOf(hit));
            }
            this.send('move', hits, from);
            this.choose(hits);
        }
    }

    remove() {
        const { hits } = this;
        const gone = new Set(hits);
        this.view.hits = this.view.hits.filter((hit) => !gone.has(hit));
        this.choose([]);
        this.send('remove', [], hits);
    }

    async apart() {
        const group = this.element.dataset.apart;
        if (await change({ type: 'feel-apart', pattern: this.element.dataset.pattern, hits: this.hits.map((hit) => [hit.tick, hit.pad]), group })) {
            const url = new URL(location.href);
            url.searchParams.set('lane', group);
            goTo(url.pathname + url.search);
        }
    }

    /** A key that is about the chosen hits; tells whether it was. */
    key(event) {
        const { key } = event;
        if ((event.ctrlKey || event.metaKey) && event.code === 'KeyA') {
            this.choose(this.view.hits);
        } else if (this.hits.length === 0) {
            return false;
        } else if (key === 'Delete' || key === 'Backspace') {
            this.remove();
        } else if (event.shiftKey && (key === 'ArrowUp' || key === 'ArrowDown')) {
            this.louder(key === 'ArrowUp' ? 8 : -8);
        } else if (event.altKey && (key === 'ArrowLeft' || key === 'ArrowRight')) {
            this.move((key === 'ArrowLeft' ? -1 : 1) * this.view.step);
        } else {
            return false;
        }

        return true;
    }

    /** How many are chosen, and what can be done with them. */
    show() {
        const bar = document.getElementById('hits-chosen');
        const count = this.hits.length;
        if (bar) {
            bar.hidden = count === 0;
            bar.querySelector('output').textContent = `${count} ${count === 1 ? 'hit' : 'hits'}`;
        }
    }
}
