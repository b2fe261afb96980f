// Handles on a curve that PHP draws: each moves one setting across, one up, or both. Data says where they are and what for.

import { change } from '../changes.js';
import { onPage } from '../page.js';
import { player } from '../audio/player.js';
import { follow, written } from '../writing.js';

class Handles extends HTMLElement {
    #keyed = -1;

    connectedCallback() {
        this.refresh = () => this.#draw();
        onPage(this.refresh);
        this.#draw();
    }

    disconnectedCallback() {
        document.removeEventListener('pestle:page', this.refresh);
    }

    #draw() {
        const svg = this.querySelector('svg');
        if (!svg) {
            return;
        }
        svg.querySelectorAll('.handle').forEach((handle) => handle.remove());
        JSON.parse(this.dataset.handles).forEach((spec, i) => {
            const handle = document.createElementNS('http://www.w3.org/2000/svg', 'circle');
            for (const [name, value] of Object.entries({ class: spec.small ? 'handle small' : 'handle', r: spec.small ? 4 : 6, cx: spec.x, cy: spec.y, tabindex: 0, role: 'slider', 'aria-label': spec.label })) {
                handle.setAttribute(name, value);
            }
            handle.setAttribute('aria-valuenow', String(Object.values(this.#fields(spec, spec.x, spec.y)).at(-1)));
            handle.addEventListener('pointerdown', (event) => this.#drag(event, handle, spec));
            handle.addEventListener('keydown', (event) => this.#key(event, spec, i));
            svg.append(handle);
            if (i === this.#keyed) {
                this.#keyed = -1;
                handle.focus();
            }
        });
    }

    #fields(spec, x, y) {
        const fields = { type: 'set', under: this.dataset.under };
        if (spec.up) {
            const way = share(spec.up.from - y, spec.up.height);
            fields[spec.up.field] = Math.round(100 * (spec.up.bends ? bendThrough(way) : way)) / 100;
        }
        if (spec.across) {
            fields[spec.across.field] = valueAt(spec.across, x);
        }

        return fields;
    }

    #drag(event, handle, spec) {
        event.preventDefault();
        handle.focus();
        handle.setPointerCapture(event.pointerId);
        const svg = this.querySelector('svg');
        const box = svg.getBoundingClientRect();
        const { width, height } = svg.viewBox.baseVal;
        let fields = null;
        const move = (e) => {
            const x = spec.across ? within(spec.across.from, spec.across.from + spec.across.width, (e.clientX - box.left) / box.width * width) : spec.x;
            const y = spec.up ? within(spec.up.from - spec.up.height, spec.up.from, (e.clientY - box.top) / box.height * height) : spec.y;
            handle.setAttribute('cx', x);
            handle.setAttribute('cy', y);
            fields = this.#fields(spec, x, y);
            follow(fields);
            player.preview(fields);
        };
        const giveUp = (e) => {
            if (e.key === 'Escape') {
                fields = null;
                player.preview(null);
                end();
                this.#draw();
            }
        };
        const end = () => {
            handle.removeEventListener('pointermove', move);
            removeEventListener('keydown', giveUp);
            if (fields) {
                written(fields).then((kept) => kept || change(fields));
            }
        };
        handle.addEventListener('pointermove', move);
        handle.addEventListener('pointerup', end, { once: true });
        addEventListener('keydown', giveUp);
    }

    #key(event, spec, i) {
        const steps = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
        const step = steps[event.key];
        if (step && (step[0] === 0 ? spec.up : spec.across)) {
            event.preventDefault();
            event.stopPropagation();
            this.#keyed = i;
            const across = (spec.across?.width ?? 0) / (event.shiftKey ? 200 : 40);
            const up = Math.abs(spec.up?.height ?? 0) / (event.shiftKey ? 100 : 20);
            const x = spec.across ? within(spec.across.from, spec.across.from + spec.across.width, spec.x + step[0] * across) : spec.x;
            change(this.#fields(spec, x, spec.y + step[1] * up));
        }
    }
}

function within(one, other, value) {
    return Math.max(Math.min(one, other), Math.min(Math.max(one, other), value));
}

/** The bend of a way that is so far when half its time is over; PHP's Bend the other way round. */
function bendThrough(way) {
    return within(-1, 1, Math.log(way / (1 - way)) / 3);
}

function share(way, whole) {
    return Math.max(0, Math.min(1, way / whole));
}

/** The value of a place: long ways are drawn ever closer, frequencies by octaves. */
function valueAt({ from, width, least, most, power = 1, log = false }, x) {
    const way = share(x - from, width);
    const value = log ? least * (most / least) ** way : least + (most - least) * way ** power;

    return Number(value.toPrecision(3));
}

customElements.define('pestle-handles', Handles);

/** The sounds of a pad from soft to hard: the edges between them are dragged, and the strength of the last strike is marked. */
class Strip extends HTMLElement {
    connectedCallback() {
        this.struck = ({ detail }) => {
            if (detail.source === this.dataset.pad) {
                this.#mark(detail.velocity);
            }
        };
        document.addEventListener('pestle:struck', this.struck);
        this.share = () => this.querySelectorAll('.sound').forEach((sound) => { sound.style.flexGrow = sound.dataset.share; });
        onPage(this.share);
        this.share();
        this.addEventListener('pointerdown', (event) => this.#drag(event));
        this.addEventListener('keydown', (event) => this.#key(event));
    }

    disconnectedCallback() {
        document.removeEventListener('pestle:struck', this.struck);
        document.removeEventListener('pestle:page', this.share);
    }

    #mark(velocity) {
        const mark = this.querySelector('.strength i');
        mark.style.left = `${(velocity - 1) / 1.26}%`;
        mark.dataset.lit = '';
        const tops = JSON.parse(this.dataset.tops);
        this.querySelectorAll('.sound').forEach((sound, i) => sound.toggleAttribute('data-lit', tops.length === 0 || (velocity >= tops[i][0] && velocity <= tops[i][1])));
        clearTimeout(this.timer);
        this.timer = setTimeout(() => {
            delete mark.dataset.lit;
            this.querySelectorAll('.sound').forEach((sound) => sound.removeAttribute('data-lit'));
        }, 400);
    }

    #set(edge, high) {
        const tops = JSON.parse(this.dataset.tops);
        const top = Math.max(tops[edge][0], Math.min(tops[edge + 1][1] - 1, Math.round(high)));

        return { type: 'set', under: `kit/${this.dataset.pad}/layers`, [`${edge}/high`]: top, [`${edge + 1}/low`]: top + 1 };
    }

    #drag(event) {
        const line = event.target.closest('[data-edge]');
        if (!line) {
            return;
        }
        event.preventDefault();
        line.setPointerCapture(event.pointerId);
        const edge = Number(line.dataset.edge);
        const box = this.querySelector('.sounds').getBoundingClientRect();
        const sounds = this.querySelectorAll('.sound');
        let fields = null;
        const move = (e) => {
            fields = this.#set(edge, 127 * (e.clientX - box.left) / box.width);
            const tops = JSON.parse(this.dataset.tops);
            sounds[edge].style.flexGrow = fields[`${edge}/high`] - tops[edge][0] + 1;
            sounds[edge + 1].style.flexGrow = tops[edge + 1][1] - fields[`${edge}/high`];
        };
        line.addEventListener('pointermove', move);
        line.addEventListener('pointerup', () => {
            line.removeEventListener('pointermove', move);
            if (fields) {
                change(fields);
            }
        }, { once: true });
    }

    #key(event) {
        const line = event.target.closest('[data-edge]');
        const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
        if (line && step) {
            event.preventDefault();
            event.stopPropagation();
            change(this.#set(Number(line.dataset.edge), Number(line.getAttribute('aria-valuenow')) + step * (event.shiftKey ? 10 : 1)));
        }
    }
}

customElements.define('pestle-strip', Strip);
