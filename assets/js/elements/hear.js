// A delivered file that is heard again in the page: from the start or from anywhere, one at a time.

import { player } from '../audio/player.js';

const clock = (seconds) => `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`;
let heard = null;

class Hear extends HTMLElement {
    #sound = null;

    connectedCallback() {
        this.addEventListener('click', (event) => event.target.closest('[data-hear-file]') && this.#press());
        this.addEventListener('input', () => this.#goTo());
    }

    disconnectedCallback() {
        this.#sound?.pause();
    }

    #open() {
        if (!this.#sound) {
            this.#sound = new Audio(this.dataset.first);
            this.#sound.preload = 'metadata';
            for (const event of ['timeupdate', 'play', 'pause', 'ended', 'durationchange']) {
                this.#sound.addEventListener(event, () => this.#show());
            }
            this.#sound.addEventListener('error', () => {
                this.querySelector('[data-at]').textContent = 'Its files are not there any more.';
            });
        }

        return this.#sound;
    }

    #press() {
        const sound = this.#open();
        if (!sound.paused) {
            sound.pause();

            return;
        }
        // Two things at once are heard by nobody.
        heard?.pause();
        heard = sound;
        if (player.playing) {
            player.stop();
        }
        sound.play().catch(() => this.#show());
    }

    #goTo() {
        const sound = this.#open();
        const share = Number(this.querySelector('input').value);
        const go = () => { sound.currentTime = share * sound.duration; };
        if (Number.isFinite(sound.duration)) {
            go();
        } else {
            sound.addEventListener('loadedmetadata', go, { once: true });
        }
    }

    #show() {
        const { currentTime, duration, paused } = this.#sound;
        const button = this.querySelector('[data-hear-file]');
        button.textContent = paused ? '▶' : '❚❚';
        button.setAttribute('aria-pressed', String(!paused));
        this.querySelector('input').value = Number.isFinite(duration) ? currentTime / duration : 0;
        this.querySelector('[data-at]').textContent = `${clock(currentTime)}${Number.isFinite(duration) ? ` of ${clock(duration)}` : ''}`;
    }
}
customElements.define('pestle-hear', Hear);
