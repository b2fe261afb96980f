// All that moves of a line of the mixer, drawn over one another in one lane.

import { onPage } from '../page.js';
import { drawFold } from '../moves/drawing.js';

class Fold extends HTMLElement {
    #canvas = document.createElement('canvas');
    #sized = new ResizeObserver(() => this.draw());

    connectedCallback() {
        this.#canvas.setAttribute('aria-hidden', 'true');
        this.refresh = () => this.draw();
        onPage(this.refresh);
        document.addEventListener('pestle:theme', this.refresh);
        this.#sized.observe(this);
        this.draw();
    }

    disconnectedCallback() {
        document.removeEventListener('pestle:page', this.refresh);
        document.removeEventListener('pestle:theme', this.refresh);
        this.#sized.disconnect();
    }

    draw() {
        const rows = document.getElementById('time-rows');
        if (!this.contains(this.#canvas)) {
            this.append(this.#canvas);
        }
        if (rows && this.clientWidth > 0) {
            const ticks = Number(rows.dataset.ticks);
            drawFold(this.#canvas, this, JSON.parse(this.dataset.lanes), JSON.parse(rows.dataset.bars), (tick) => tick / ticks * this.clientWidth);
        }
    }
}

customElements.define('pestle-fold', Fold);
