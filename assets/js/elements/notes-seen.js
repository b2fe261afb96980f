// How a low, a middle and a high note sound over time: the core says how loud each band is, this draws it.

const COLOURS = ['--plum', '--tide', '--basil'];
const bytes = (text) => Uint8Array.from(atob(text), (c) => c.charCodeAt(0));

class NotesSeen extends HTMLElement {
    #shown = '';
    #data = null;
    #redraw = () => this.#draw();
    #size = new ResizeObserver(this.#redraw);

    static observedAttributes = ['data-url'];

    connectedCallback() {
        this.#size.observe(this);
        document.addEventListener('pestle:theme', this.#redraw);
        this.#load();
    }

    disconnectedCallback() {
        this.#size.disconnect();
        document.removeEventListener('pestle:theme', this.#redraw);
    }

    attributeChangedCallback() {
        this.#load();
    }

    async #load() {
        const { url } = this.dataset;
        if (!this.isConnected || url === this.#shown) {
            return;
        }
        this.#shown = url;
        try {
            const response = await fetch(url);
            const data = response.ok ? await response.json() : null;
            if (url === this.#shown && data) {
                this.#data = data;
                this.#draw();
            }
        } catch {
            // Nobody answered: what is drawn stays, and is asked for again with the next change.
            this.#shown = '';
        }
    }

    #draw() {
        if (!this.#data) {
            return;
        }
        const { columns, held, notes } = this.#data;
        this.querySelectorAll('canvas').forEach((canvas, i) => {
            const [width, height] = [canvas.clientWidth, canvas.clientHeight];
            const pen = canvas.getContext('2d');
            canvas.width = width * devicePixelRatio;
            canvas.height = height * devicePixelRatio;
            pen.scale(devicePixelRatio, devicePixelRatio);
            const style = getComputedStyle(canvas);
            const bands = bytes(notes[i].bands);
            const count = bands.length / columns;
            const [w, h] = [width / columns, height / count];
            pen.fillStyle = style.getPropertyValue(COLOURS[i]);
            for (let c = 0; c < columns; c += 1) {
                for (let b = 0; b < count; b += 1) {
                    pen.globalAlpha = (bands[c * count + b] / 255) ** 2.2;
                    pen.fillRect(c * w, height - (b + 1) * h, w + 0.5, Math.max(1, h - 1));
                }
            }
            pen.globalAlpha = 1;
            pen.strokeStyle = style.color;
            pen.lineWidth = 1.5;
            pen.beginPath();
            bytes(notes[i].level).forEach((level, c) => pen.lineTo((c + 0.5) * w, height - 2 - level / 255 * (height - 6)));
            pen.stroke();
            // Where it is let go.
            pen.globalAlpha = 0.4;
            pen.fillRect(held * width, 0, 1, height);
        });
    }
}

customElements.define('pestle-notes-seen', NotesSeen);
