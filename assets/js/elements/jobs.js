// What is at work in the background: how much of it in the header, a list of it at a press.

import { app } from '../page.js';
import { notice } from '../notice.js';

const BUSY_MS = 1500;
const IDLE_MS = 15000;

class Jobs extends HTMLElement {
    #timer = null;
    #look = () => this.#show(fetch('/jobs'));

    connectedCallback() {
        this.addEventListener('click', ({ target }) => {
            const { job } = target.closest('[data-job]')?.dataset ?? {};
            if (job) {
                this.#show(fetch(`/jobs/${job}`, { method: 'POST', headers: { 'X-Pestle-Token': app().dataset.token } }), 'This could not be done. Is Pestle still running?');
            }
        });
        document.addEventListener('pestle:work', this.#look);
        document.addEventListener('visibilitychange', this.#look);
        this.#look();
    }

    disconnectedCallback() {
        clearTimeout(this.#timer);
        document.removeEventListener('pestle:work', this.#look);
        document.removeEventListener('visibilitychange', this.#look);
    }

    async #show(asked, problem = '') {
        clearTimeout(this.#timer);
        const response = await asked.catch(() => null);
        if (response?.ok) {
            // Morphed, so that the list stays open, and the focus where it is.
            Idiomorph.morph(this, await response.text(), { morphStyle: 'innerHTML' });
        } else if (problem) {
            notice(problem, { bad: true });
        }
        clearTimeout(this.#timer);
        if (this.isConnected && !document.hidden) {
            this.#timer = setTimeout(this.#look, this.querySelector('[data-busy="1"]') ? BUSY_MS : IDLE_MS);
        }
    }
}

customElements.define('pestle-jobs', Jobs);
