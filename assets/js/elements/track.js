// A track of the song: clips are chosen, moved, cropped at their ends and faded by the pointer, and all of it by keys.

import { change } from '../changes.js';
import { drawTrack } from '../clips/drawing.js';
import { endAt, faded, length, startAt } from '../clips/shaping.js';
import { onPage, page } from '../page.js';
import { grid, hand, setCursor, snapped } from '../song-cursor.js';

const EDGE = 7;
const CORNER = 9;
/** Ids of clips that are chosen with Shift beside the one in the address. */
const others = new Set();

class Track extends HTMLElement {
    #clips = [];
    #held = false;
    #canvas = document.createElement('canvas');
    #sized = new ResizeObserver(() => this.draw());

    connectedCallback() {
        this.prepend(this.#canvas);
        this.#canvas.setAttribute('aria-hidden', 'true');
        this.refresh = () => this.#read();
        onPage(this.refresh);
        document.addEventListener('pestle:theme', this.refresh);
        this.addEventListener('pointerdown', (event) => this.#press(event));
        this.addEventListener('pointermove', (event) => this.#hint(event));
        this.addEventListener('click', (event) => this.#click(event));
        this.addEventListener('keydown', (event) => this.#key(event));
        this.#sized.observe(this);
        this.#read();
    }

    disconnectedCallback() {
        document.removeEventListener('pestle:page', this.refresh);
        document.removeEventListener('pestle:theme', this.refresh);
        this.#sized.disconnect();
    }

    get clips() {
        return this.#clips;
    }

    #read() {
        if (this.#held) {
            return;
        }
        if (!this.contains(this.#canvas)) {
            this.prepend(this.#canvas);
        }
        this.#clips = JSON.parse(this.dataset.clips);
        this.draw();
    }

    get #ticks() {
        return Number(document.getElementById('time-rows')?.dataset.ticks ?? 1);
    }

    #x(tick) {
        return tick / this.#ticks * this.clientWidth;
    }

    #tick(clientX) {
        const box = this.getBoundingClientRect();

        return (clientX - box.left) / box.width * this.#ticks;
    }

    get #chosen() {
        return new Set([...others, document.querySelector('.clip[aria-current]')?.dataset.clip].filter((id) => id));
    }

    draw() {
        const rows = document.getElementById('time-rows');
        if (!rows || this.clientWidth === 0) {
            return;
        }
        const most = Number(this.dataset.most ?? 1);
        const tall = most > 1 ? 38 : 50;
        this.style.height = `${most * tall}px`;
        drawTrack(this.#canvas, this, { clips: this.#clips, chosen: this.#chosen, bars: JSON.parse(rows.dataset.bars), tall, shapes: JSON.parse(rows.dataset.fades), x: (tick) => this.#x(tick) });
        for (const [i, clip] of this.#clips.entries()) {
            const name = this.#link(clip.id);
            if (name) {
                const behind = this.#clips.slice(i + 1).find(({ row }) => row === clip.row);
                const room = this.#x((behind?.at ?? Infinity) - clip.at) - 9;
                name.style.top = `${clip.row * tall}px`;
                name.style.height = `${tall}px`;
                name.style.left = `${this.#x(clip.at)}px`;
                const wide = Math.max(6, this.#x(length(clip)));
                name.style.width = `${wide}px`;
                name.toggleAttribute('data-short', wide < 64);
                // A name ends where the next clip begins.
                name.firstElementChild.style.maxWidth = `${Math.max(0, Math.min(room, Math.max(wide - 9, 120)))}px`;
                name.firstElementChild.style.visibility = room < 18 ? 'hidden' : '';
            }
        }
    }

    #link(id) {
        return this.querySelector(`[data-clip="${id}"]`);
    }

    #of(event) {
        const id = event.target.closest?.('[data-clip]')?.dataset.clip;

        return this.#clips.find((clip) => clip.id === id);
    }

    /** What a press at a place of a clip takes hold of. */
    #part({ clientX, clientY }, clip) {
        const box = this.#link(clip.id).getBoundingClientRect();
        const [fromLeft, fromRight, fromTop] = [clientX - box.left, box.right - clientX, clientY - box.top];
        const near = (x) => Math.abs(fromLeft - Math.max(5, Math.min(box.width - 5, x))) <= CORNER;
        if (this.#chosen.has(clip.id) && box.width > 24 && fromTop < 11) {
            if (near(this.#x(clip.in))) {
                return 'in';
            }
            if (near(box.width - this.#x(clip.out))) {
                return 'out';
            }
        }

        return fromLeft < EDGE ? 'start' : fromRight < EDGE ? 'end' : 'all';
    }

    #hint(event) {
        const clip = this.#of(event);
        this.style.cursor = clip && !this.#held ? { start: 'ew-resize', end: 'ew-resize', in: 'nesw-resize', out: 'nwse-resize', all: 'grab' }[this.#part(event, clip)] : '';
    }

    #press(event) {
        const clip = this.#of(event);
        if (event.button !== 0 || !clip) {
            return;
        }
        const part = this.#part(event, clip);
        const before = this.#clips;
        const [x, tick] = [event.clientX, this.#tick(event.clientX)];
        const snap = (at, e) => (e.altKey ? Math.max(0, Math.round(at)) : snapped(at));
        const together = part === 'all' && this.#chosen.has(clip.id) ? this.#chosen : new Set([clip.id]);
        let over = this;
        const does = {
            start: (e) => startAt(clip, snap(clip.at + this.#tick(e.clientX) - tick, e)),
            end: (e) => endAt(clip, snap(clip.at + length(clip) + this.#tick(e.clientX) - tick, e)),
            in: (e) => faded(clip, 'in', clip.in + this.#tick(e.clientX) - tick),
            out: (e) => faded(clip, 'out', clip.out - this.#tick(e.clientX) + tick),
            all: (e) => ({ ...clip, at: snap(clip.at + this.#tick(e.clientX) - tick, e) }),
        }[part];
        let moved = false;
        const move = (e) => {
            moved ||= Math.abs(e.clientX - x) > 3 || (part === 'all' && this.#under(e) !== this);
            if (!moved) {
                return;
            }
            this.#held = true;
            const now = does(e);
            const by = now.at - clip.at;
            this.#clips = before.map((own) => (own === clip ? now : together.has(own.id) ? { ...own, at: Math.max(0, own.at + by) } : own));
            if (part === 'all') {
                over.toggleAttribute('data-over', false);
                over = this.#under(e) ?? this;
                over.toggleAttribute('data-over', over !== this);
            }
            this.draw();
        };
        const end = () => {
            removeEventListener('pointermove', move);
            removeEventListener('pointerup', up);
            removeEventListener('keydown', giveUp);
            over.toggleAttribute('data-over', false);
            this.#held = false;
        };
        const giveUp = (e) => {
            if (e.key === 'Escape') {
                e.stopPropagation();
                end();
                this.#read();
            }
        };
        const up = async () => {
            end();
            const now = this.#clips.find(({ id }) => id === clip.id);
            if (!moved || (now.at === clip.at && now.from === clip.from && now.to === clip.to && now.in === clip.in && now.out === clip.out && over === this)) {
                this.#read();

                return;
            }
            // What was dragged was not clicked.
            const swallow = (e) => { e.preventDefault(); e.stopPropagation(); };
            addEventListener('click', swallow, { capture: true });
            setTimeout(() => removeEventListener('click', swallow, { capture: true }));
            await this.#keep(part, now, now.at - clip.at, together, over);
        };
        addEventListener('pointermove', move);
        addEventListener('pointerup', up);
        addEventListener('keydown', giveUp, { capture: true });
    }

    /** The track under the pointer. */
    #under({ clientX, clientY }) {
        return document.elementsFromPoint(clientX, clientY).find((element) => element.matches('pestle-track'));
    }

    async #keep(part, now, by, together, over) {
        if (part === 'in' || part === 'out') {
            await change({ type: 'set', [`clip/${now.id}/${part === 'in' ? 'fadeInMs' : 'fadeOutMs'}`]: Math.round(1000 * now[part] / now.second) });

            return;
        }
        const rows = part === 'all'
            ? [...document.querySelectorAll('pestle-track')].flatMap((track) => track.clips.filter(({ id }) => together.has(id)).map((clip) => ({
                id: clip.id, at: track === this ? clip.at : Math.max(0, clip.at + by), ...(over !== this && track === this ? { track: over.dataset.track } : {}),
            })))
            : [{ id: now.id, ...(part === 'start' ? { at: now.at } : {}), from: now.from, to: now.to }];
        await change({ type: 'set-clips', clips: rows });
    }

    #click(event) {
        const clip = this.#of(event);
        if (!clip) {
            setCursor(snapped(this.#tick(event.clientX)));
        } else if (event.shiftKey) {
            event.preventDefault();
            event.stopPropagation();
            others.has(clip.id) ? others.delete(clip.id) : others.add(clip.id);
            document.querySelectorAll('pestle-track').forEach((track) => track.draw());
        } else {
            others.clear();
        }
    }

    #key(event) {
        const link = event.target.closest('[data-clip]');
        if (!link || event.ctrlKey || event.metaKey) {
            return;
        }
        const id = link.dataset.clip;
        // As it is when its turn has come: keys are pressed faster than the server answers.
        const now = () => this.#clips.find((clip) => clip.id === id);
        const step = grid() || 60;
        const sign = [',', '<', '≤'].includes(event.key) ? -1 : 1;
        const nudge = () => change(() => {
            const clip = now();
            if (event.shiftKey) {
                const { from, to } = endAt(clip, clip.at + length(clip) + sign * step);

                return { type: 'set-clips', clips: [{ id, from, to }] };
            }
            const { at, from, to } = event.altKey ? startAt(clip, clip.at + sign * step) : { ...clip, at: Math.max(0, clip.at + sign * step) };

            return { type: 'set-clips', clips: [{ id, at, ...(event.altKey ? { from, to } : {}) }] };
        });
        const does = {
            ',': nudge, '.': nudge, '<': nudge, '>': nudge, '≤': nudge, '≥': nudge,
            ArrowLeft: () => this.#neighbour(link, -1),
            ArrowRight: () => this.#neighbour(link, 1),
            ArrowUp: () => this.#beside(link, -1),
            ArrowDown: () => this.#beside(link, 1),
            x: () => change(() => ({ type: 'split-clip', clip: id, id: page().nextClip, at: hand() })),
            m: () => change(() => ({ type: 'set', [`clip/${id}/muted`]: now().muted ? 0 : 1 })),
            Delete: () => this.#remove(id),
            Backspace: () => this.#remove(id),
            Escape: () => { others.clear(); this.draw(); },
        };
        if (event.key in does) {
            event.preventDefault();
            event.stopPropagation();
            does[event.key]();
        }
    }

    #remove(id) {
        const clips = [...new Set([id, ...this.#chosen.has(id) ? this.#chosen : []])];
        others.clear();
        change({ type: 'remove-clips', clips });
    }

    #neighbour(link, by) {
        const links = [...this.querySelectorAll('[data-clip]')];
        links[links.indexOf(link) + by]?.focus();
    }

    /** The clip of the next track that lies nearest. */
    #beside(link, by) {
        const tracks = [...document.querySelectorAll('pestle-track')].filter((track) => track.clips.length > 0);
        const track = tracks[tracks.indexOf(this) + by];
        const own = this.#clips.find((clip) => clip.id === link.dataset.clip);
        const nearest = track?.clips.reduce((best, clip) => (Math.abs(clip.at - own.at) < Math.abs(best.at - own.at) ? clip : best));
        track?.querySelector(`[data-clip="${nearest.id}"]`).focus();
    }
}

customElements.define('pestle-track', Track);
