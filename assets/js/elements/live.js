// Performing: what was chosen is said to the server, and what it plans is heard; pages that come later join in.

import { player } from '../audio/player.js';
import { change } from '../changes.js';
import { onFrame } from '../frames.js';
import { letPadsChoose } from '../hands.js';
import { catchBars } from '../live/catching.js';
import { drawLive } from '../live/drawing.js';
import { Lead } from '../live/lead.js';
import { lastBars, playsAt, whenOf, whenWords } from '../live/waiting.js';
import { notice } from '../notice.js';
import { app, goTo, page } from '../page.js';
import { RATE } from '../time.js';
import { write } from '../write.js';

const TWICE_MS = 400;
const HELD_MS = 600;
const TELL_EVERY_MS = 2500;
const HELD_KEYS = { KeyZ: 'tone', KeyX: 'echo', KeyC: 'thin', KeyV: 'stutter', KeyB: 'half', KeyN: 'only', KeyM: 'silence', Slash: 'backwards' };
/** Those that lie over all; the others are parts that are silent meanwhile. */
const EFFECTS = ['tone', 'echo', 'thin', 'stutter', 'half', 'backwards'];
/** What patterns play begins with a sixteenth. */
const PLAYED = ['stutter', 'half', 'backwards'];

class Live extends HTMLElement {
    #canvas = document.createElement('canvas');
    #state = null;
    /** Tick that was heard last. */
    #now = 0;
    #pressed = new Map();
    #last = { item: '', at: 0 };
    /** How long choices take until they can be heard. */
    #lead = new Lead();
    /** What is held, and by what. */
    #held = new Map();
    #asking = Promise.resolve();
    #drawn = '';

    connectedCallback() {
        if (!this.shadowRoot) {
            this.attachShadow({ mode: 'open' }).append(this.#canvas);
            this.#canvas.style.cssText = 'width:100%;height:100%;display:block';
        }
        this.#state = this.dataset.live ? JSON.parse(this.dataset.live) : null;
        this.#now = this.#state?.now ?? 0;
        this.gone = new AbortController();
        const { signal } = this.gone;
        document.addEventListener('pestle:theme', () => this.#draw(true), { signal });
        document.addEventListener('pestle:page', () => this.#arrange(), { signal });
        document.addEventListener('click', (event) => this.#click(event), { signal, capture: true });
        document.addEventListener('change', ({ target }) => target.matches?.('[data-live-pads], [data-live-part]') && this.#arrange(), { signal });
        document.addEventListener('keydown', (event) => this.#key(event, true), { signal, capture: true });
        document.addEventListener('keyup', (event) => this.#key(event, false), { signal, capture: true });
        document.addEventListener('pointerdown', ({ target, pointerId }) => {
            const button = target.closest?.('[data-live-held], [data-choose]');
            if (button?.dataset.liveHeld) {
                this.#hold(button.dataset.liveHeld, true, `pointer ${pointerId}`);
            } else if (button) {
                this.#press(button, `pointer ${pointerId}`);
            }
        }, { signal });
        addEventListener('pointerup', ({ pointerId }) => {
            this.#release(`pointer ${pointerId}`);
            this.#letGo(`pointer ${pointerId}`);
        }, { signal });
        // Whoever looks elsewhere lets go.
        addEventListener('blur', () => this.#letGo(), { signal });
        this.watch = new ResizeObserver(() => this.#draw(true));
        this.watch.observe(this);
        this.unframe = onFrame(() => this.#frame());
        this.timer = setInterval(() => this.#tell(), TELL_EVERY_MS);
        this.#arrange();
    }

    disconnectedCallback() {
        this.gone.abort();
        this.watch.disconnect();
        this.unframe();
        clearInterval(this.timer);
        letPadsChoose(null);
        if (this.#plays) {
            player.stop();
        }
        player.hearing = '';
    }

    /** For those who look from outside. */
    get performance() {
        return { state: this.#state, now: this.#now, playing: this.#plays, lead: this.#lead.seconds };
    }

    get #plays() {
        return player.playing && player.what === 'song' && player.hearing.startsWith('live/');
    }

    get #parts() {
        return Object.values(JSON.parse(this.dataset.parts));
    }

    /** The first tick that can still be changed. */
    get #free() {
        return this.#plays ? Math.ceil(this.#now + this.#ticks(this.#lead.seconds)) : this.#now;
    }

    #ticks(seconds) {
        return seconds * (this.#state?.bpm ?? 120) * 16;
    }

    #frame() {
        // Until it sounds it is nowhere.
        if (this.#plays && this.#state && player.position() > 0) {
            this.#now = Math.round(this.#ticks(player.position() / RATE));
        }
        this.#draw();
        this.#words();
    }

    #draw(anew = false) {
        const looks = `${Math.round(this.#now / 40)} ${this.#state?.version}`;
        if (anew || looks !== this.#drawn) {
            this.#drawn = looks;
            drawLive(this.#canvas, { state: this.#state, parts: this.#parts, now: this.#now });
        }
    }

    /** Asks in turn, so that what is chosen later comes later. */
    #ask(what, fields = null) {
        const { beat } = page();
        const asked = performance.now();
        this.#asking = this.#asking.then(async () => {
            const response = await fetch(`/beats/${beat}/live${what}`, fields ? { method: 'POST', headers: { 'Content-Type': 'application/json', 'X-Pestle-Token': app().dataset.token }, body: JSON.stringify(fields) } : {}).catch(() => null);
            const answer = await response?.json().catch(() => null);
            if (!response?.ok) {
                notice(answer?.error ?? 'This could not be done. Is Pestle still running?', { bad: true });

                return null;
            }
            this.#take(answer, what === '/choose' ? asked : null);

            return answer;
        });

        return this.#asking;
    }

    /** @param asked when it was chosen here, which tells how long choices take */
    #take(answer, asked = null) {
        if (!answer.version || !this.isConnected) {
            return;
        }
        const newer = answer.version !== this.#state?.version;
        this.#state = answer;
        if (newer && this.#plays) {
            this.#hear(`live/${answer.version}`, asked);
        }
        document.querySelectorAll('[data-live=song], [data-live=forget], [data-live=catch]').forEach((button) => { button.disabled = false; });
        write(document.querySelector('[data-live=begin]'), 'Begin anew');
        write(document.getElementById('live-said'), 'What you choose is written as you go.');
        this.#draw(true);
    }

    async #hear(version, asked) {
        const answered = performance.now();
        try {
            if (await player.hearSong(version, this.#lead.soon) && asked !== null) {
                this.#lead.took((answered - asked) / 1000, (performance.now() - answered) / 1000);
            }
        } catch (problem) {
            notice(problem.message, { bad: true });
        }
    }

    /** Says what is heard; while nothing is, looks what others did. */
    #tell() {
        if (this.#plays) {
            this.#ask('/now', { at: this.#now });
        } else if (document.visibilityState === 'visible') {
            this.#ask('');
        }
    }

    /** Plays from a segment on; without one from where it was left. */
    async #play(from = null) {
        const answer = from ?? await this.#ask(this.#state ? '?play' : '/begin', this.#state ? null : { section: this.dataset.section });
        if (answer?.version) {
            this.#now = answer.from;
            player.stop();
            player.hearing = `live/${answer.version}`;
            await player.playSong(answer.segment);
        }
    }

    /** Letters of the pads before what they choose. */
    #arrange() {
        const what = document.querySelector('[data-live-what][aria-pressed=true]')?.dataset.liveWhat ?? 'patterns';
        const part = document.querySelector('[data-live-part]');
        if (!part) {
            return;
        }
        part.hidden = what !== 'patterns';
        for (const list of document.querySelectorAll('[data-live-list]')) {
            list.hidden = list.dataset.liveList !== what || (list.dataset.of ?? part.value) !== part.value;
        }
        const choose = document.querySelector('[data-live-pads]').checked;
        this.#items().forEach((item, i) => write(item.querySelector('kbd'), choose ? document.querySelector(`.pad[data-number="${i}"]`)?.dataset.key ?? '' : ''));
        write(document.querySelector('[data-live-only]'), part.selectedOptions[0].textContent);
        letPadsChoose(choose ? { press: (place, hold) => this.#items()[place] && this.#press(this.#items()[place], hold), release: (hold) => this.#release(hold) } : null);
    }

    #items() {
        return [...document.querySelectorAll('[data-live-list]:not([hidden]) [data-choose]')];
    }

    /** What an item says, with the patterns of a section in its place. */
    #says(item) {
        const says = JSON.parse(item.dataset.choose);

        return says.section ? { patterns: this.#sectionOf(says.section) } : says;
    }

    #when(item) {
        return whenOf(this.#says(item), this.#state, this.#now);
    }

    #sectionOf(id) {
        const plays = JSON.parse(document.querySelector('[data-live-sections]').dataset.liveSections)[id] ?? {};

        return Object.fromEntries(this.#parts.map(({ id: part }) => [part, plays[part] ?? '']));
    }

    #words() {
        if (!this.#state) {
            return;
        }
        const bar = this.#state.bar;
        for (const item of this.#items()) {
            const when = this.#when(item);
            write(item.querySelector('[data-live-when]'), whenWords(this.#says(item), when, this.#now, bar));
            item.toggleAttribute('data-plays', when.plays);
            item.toggleAttribute('data-waits', when.tick !== undefined);
        }
        const played = this.#state.choices.filter(({ tick }) => tick > 0 && tick <= this.#now).length;
        write(document.getElementById('live-count'), `${Math.floor(this.#now / bar)} bars so far, ${played} ${played === 1 ? 'change' : 'changes'}`);
    }

    async #choose(fields, wait = null) {
        if (!this.#state) {
            await this.#play();
        }

        return this.#ask('/choose', { ...fields, wait: wait ?? document.querySelector('[data-live-wait]').value, at: this.#free });
    }

    /** What an item says, as it is said to the server: a mute is turned round. */
    #fieldsOf(item) {
        const says = JSON.parse(item.dataset.choose);

        return says.mute ? { muted: { [says.mute]: !this.#when(item).plays } } : says;
    }

    #press(item, hold) {
        const says = item.dataset.choose;
        const now = performance.now();
        const twice = this.#last.item === says && now - this.#last.at < TWICE_MS;
        this.#last = { item: says, at: now };
        const { choice } = this.#when(item);
        if (twice) {
            this.#choose(this.#fieldsOf(item), 'now');
        } else if (choice) {
            this.#ask('/take-back', { choice, at: this.#free });
        } else {
            const parts = Object.keys(JSON.parse(says).patterns ?? {});
            const before = Object.fromEntries(parts.map((part) => [part, playsAt(this.#state, part, this.#now)?.pattern ?? '']));
            this.#pressed.set(hold, { at: now, before });
            this.#choose(this.#fieldsOf(item));
        }
    }

    /** What was held for long is over: what was there before comes back. */
    #release(hold) {
        const pressed = this.#pressed.get(hold);
        this.#pressed.delete(hold);
        if (pressed && performance.now() - pressed.at > HELD_MS && Object.keys(pressed.before).length > 0) {
            this.#choose({ patterns: pressed.before });
        }
    }

    /** What one hand holds, or all of them. */
    #letGo(hand = null) {
        [...this.#held].filter(([, { by }]) => hand === null || by === hand).forEach(([what]) => this.#hold(what, false));
    }

    #hold(what, on, by = 'key') {
        if (on === this.#held.has(what)) {
            return;
        }
        // Let go is what was held, whatever was chosen since.
        const part = this.#held.get(what)?.part ?? document.querySelector('[data-live-over]').value;
        on ? this.#held.set(what, { by, part }) : this.#held.delete(what);
        document.querySelector(`[data-live-held=${what}]`).toggleAttribute('data-acts', on);
        if (EFFECTS.includes(what)) {
            this.#choose({ held: { [part === '' ? what : `${what}/${part}`]: on } }, PLAYED.includes(what) ? 'now' : 'once');

            return;
        }
        const chosen = document.querySelector('[data-live-part]').value;
        const parts = this.#parts.filter(({ id }) => what === 'silence' || id !== chosen);
        this.#choose({ muted: Object.fromEntries(parts.map(({ id }) => [id, on])) }, on ? 'beat' : 'bar');
    }

    #key(event, down) {
        if (document.getElementById('keys').open || event.target.matches?.('input:not([type=checkbox]), select, textarea') || event.ctrlKey || event.metaKey || event.altKey) {
            return;
        }
        if (event.code === 'Space') {
            event.preventDefault();
            event.stopImmediatePropagation();
            if (down && !event.repeat) {
                this.#plays ? player.stop() : this.#play();
            }
        } else if (event.code in HELD_KEYS) {
            event.preventDefault();
            event.stopImmediatePropagation();
            if (!event.repeat) {
                this.#hold(HELD_KEYS[event.code], down);
            }
        }
    }

    async #click(event) {
        const button = event.target.closest?.('[data-start-stop], [data-live], [data-live-what]');
        if (!button) {
            return;
        }
        if ('startStop' in button.dataset) {
            event.stopImmediatePropagation();
            this.#plays ? player.stop() : this.#play();
        } else if (button.dataset.liveWhat) {
            document.querySelectorAll('[data-live-what]').forEach((one) => one.setAttribute('aria-pressed', String(one === button)));
            this.#arrange();
        } else if (button.dataset.live === 'catch') {
            catchBars({ bars: document.querySelector('[data-live-bars]').value, at: this.#now, wet: document.querySelector('[data-live-wet]').checked });
        } else if (button.dataset.live === 'song') {
            await this.#makeSong();
        } else {
            const answer = await this.#ask(`/${button.dataset.live}`, button.dataset.live === 'begin' ? { section: this.dataset.section } : { bars: 8, at: this.#now });
            if (answer) {
                this.#now = answer.from;
                await this.#play(answer);
            }
        }
    }

    async #makeSong() {
        const { bar, choices } = this.#state;
        const { from, to } = lastBars(this.#now, bar, Number(document.querySelector('[data-live-much]').value));
        const bars = (to - from) / bar;
        if (this.#plays) {
            player.stop();
        }
        if (await change({ type: 'perform-song', choices, from, to })) {
            await goTo(document.querySelector('[href$="/arrange"], [href*="/arrange?"]:not([href*="view="])')?.getAttribute('href') ?? `/beats/${page().beat}/arrange`);
            notice(`${bars} ${bars === 1 ? 'bar is' : 'bars are'} the song now. Undo brings the old one back, with what lay over it.`, { seconds: 10 });
        }
    }
}

customElements.define('pestle-live', Live);
