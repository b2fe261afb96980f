// What the pointer does on a recording: scroll, select, move markers, ends of slices, and lines of the beat grid.

import { MAP, TAB_WIDTH } from './drawing.js';

const NEAR = 5;

export class WavePointer {
    drag = null;

    /** @param acts what is done with what was dragged: clicked, released, marker, end, line, cut, show, scrollTo, zoom, play, changed */
    constructor(canvas, view, drawing, acts) {
        Object.assign(this, { canvas, view, drawing, acts });
        canvas.addEventListener('pointerdown', (event) => this.#down(event));
        canvas.addEventListener('pointermove', (event) => this.#move(event));
        canvas.addEventListener('pointerup', () => this.#up());
        canvas.addEventListener('dblclick', (event) => acts.cut(Math.round(this.#frameAt(event))));
        canvas.addEventListener('wheel', (event) => this.#wheel(event), { passive: false });
    }

    #place(event) {
        const box = this.canvas.getBoundingClientRect();

        return { x: event.clientX - box.left, y: event.clientY - box.top, width: box.width, height: box.height };
    }

    #frameAt(event) {
        const { x, width } = this.#place(event);
        const { view } = this;

        return Math.max(0, Math.min(view.frames, view.from + x / width * (view.to - view.from)));
    }

    #isNear(frame, x) {
        return Math.abs(this.drawing.x(frame) - x) < NEAR;
    }

    #down(event) {
        if (event.button !== 0) {
            return;
        }
        const { view } = this;
        const { x, y, width } = this.#place(event);
        this.canvas.setPointerCapture(event.pointerId);
        if (y < MAP) {
            this.drag = { kind: 'map' };
            this.acts.scrollTo(x / width * view.frames);

            return;
        }
        view.cursor = Math.round(this.#frameAt(event));
        this.drag = this.#taken(event, x, y);
        this.acts.changed();
    }

    /** What is under the pointer to be dragged. */
    #taken(event, x, y) {
        const { view, drawing } = this;
        if (view.mode === 'grid') {
            const line = view.beats.findIndex((frame) => this.#isNear(frame, x));
            if (line >= 0) {
                view.line = view.first + line;

                return { kind: 'line', index: line, x, before: [...view.beats], spread: event.shiftKey };
            }
        }
        const marker = y > drawing.bottom
            ? view.markers.findLastIndex((m) => x >= drawing.x(m) - 3 && x <= drawing.x(m) + TAB_WIDTH)
            : view.markers.findIndex((m) => this.#isNear(m, x));
        if (marker >= 0 && !event.shiftKey) {
            view.chosen = marker;

            return { kind: 'marker', index: marker, x, y, before: [...view.markers] };
        }
        if (!view.selection && view.markers.length > 0 && y < drawing.bottom && this.#isNear(view.region(view.chosen)[1], x)) {
            return { kind: 'end', x };
        }
        const edge = view.selection?.findIndex((f) => Math.abs(drawing.x(f) - x) < 6) ?? -1;
        const anchor = edge >= 0 ? view.selection[1 - edge] : (event.shiftKey && view.selection ? view.selection[0] : view.cursor);

        return { kind: 'select', anchor, x, moved: edge >= 0 || event.shiftKey };
    }

    #move(event) {
        const { drag, view } = this;
        if (!drag) {
            return;
        }
        const { x, y, width, height } = this.#place(event);
        const frame = Math.round(this.#frameAt(event));
        if (drag.kind === 'map') {
            this.acts.scrollTo(x / width * view.frames);

            return;
        }
        drag.moved = drag.moved || Math.abs(x - drag.x) > 3 || (drag.kind === 'marker' && Math.abs(y - drag.y) > 3);
        if (!drag.moved) {
            return;
        }
        if (drag.kind === 'select') {
            view.selection = frame === drag.anchor ? null : [Math.min(frame, drag.anchor), Math.max(frame, drag.anchor)];
        } else if (drag.kind === 'end') {
            view.ends[view.chosen] = Math.max(view.markers[view.chosen] + 1, frame);
        } else if (drag.kind === 'line') {
            const [low, high] = [(drag.before[drag.index - 1] ?? -1) + 1, drag.spread ? view.frames : (drag.before[drag.index + 1] ?? view.frames) - 1];
            view.beats = drag.before.with(drag.index, Math.max(low, Math.min(high, frame)));
        } else {
            // Far below or above the wave means: take it out.
            const [low, high] = [(drag.before[drag.index - 1] ?? -1) + 1, (drag.before[drag.index + 1] ?? view.frames) - 1];
            drag.to = y > height + 30 || y < -30 ? null : Math.max(low, Math.min(high, frame));
            view.markers = drag.to === null ? drag.before.toSpliced(drag.index, 1) : drag.before.with(drag.index, drag.to);
        }
        this.acts.changed();
    }

    #up() {
        const { drag, view } = this;
        this.drag = null;
        if (!drag) {
            return;
        }
        const put = {
            marker: () => this.acts.marker(drag.before[drag.index], drag.to),
            end: () => this.acts.end(view.ends[view.chosen]),
            line: () => this.acts.line(view.line, view.beats[drag.index], drag.spread),
        }[drag.kind];
        if (drag.moved && put) {
            put();
            this.acts.changed();

            return;
        }
        this.acts.released();
        if (drag.moved) {
            this.acts.changed();
        } else if (drag.kind === 'select') {
            view.selection = null;
            view.chosen = Math.max(0, view.markers.findLastIndex((m) => m <= view.cursor));
            this.acts.clicked();
            this.acts.changed();
        } else if (drag.kind === 'marker' || drag.kind === 'end') {
            this.acts.play();
        }
    }

    #wheel(event) {
        event.preventDefault();
        const { view } = this;
        if (event.ctrlKey || Math.abs(event.deltaY) > Math.abs(event.deltaX)) {
            this.acts.zoom(1.15 ** Math.sign(event.deltaY), this.#frameAt(event));
        } else {
            const span = view.to - view.from;
            this.acts.show(view.from + event.deltaX / 800 * span, span);
        }
    }
}
