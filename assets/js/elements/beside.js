// What stands beside, one row a device: whom Pestle follows or leads, and what is to be known of each.

import { allDevices, onDevices } from '../beside/devices.js';
import { clockOf, follow, followingNow, follows, stopFollowing } from '../beside/following.js';
import { lead, leads, stopLeading } from '../beside/leading.js';
import { usedAs, useAs } from '../beside/uses.js';
import { notice } from '../notice.js';
import { page } from '../page.js';
import { write } from '../write.js';

const TOLD_MS = 250;
const USES = { controller: 'plays Pestle', clock: 'keeps time', module: 'sounds' };

class Beside extends HTMLElement {
    #telling = null;

    connectedCallback() {
        onDevices(this, () => this.#draw());
        this.addEventListener('click', (event) => this.#press(event.target.closest('button')));
        this.addEventListener('change', ({ target }) => {
            if (target.name === 'used-as') {
                useAs(target.closest('[data-device]').dataset.device, target.value);
                this.#draw();
            }
        });
        this.#telling = setInterval(() => this.#tell(), TOLD_MS);
        this.#draw();
    }

    disconnectedCallback() {
        onDevices(this, null);
        clearInterval(this.#telling);
    }

    #draw() {
        const devices = allDevices();
        const focused = document.activeElement?.dataset?.does;
        this.replaceChildren(...(devices.length > 0 ? devices.map((device) => this.#row(device)) : [this.#empty()]));
        if (focused) {
            this.querySelector(`[data-does="${focused}"]`)?.focus();
        }
        this.#tell();
    }

    #empty() {
        const line = document.createElement('p');
        line.className = 'small';
        line.textContent = 'Nothing else stands beside. Plug in a MIDI device and press Use MIDI devices, or start one that stands in: bin/stand-in clock, module or controller.';

        return line;
    }

    #row(device) {
        const row = document.createElement('div');
        row.className = 'device';
        row.dataset.device = device.name;
        const name = document.createElement('b');
        name.textContent = device.name;
        name.title = device.name;
        row.append(name, device.place === undefined ? this.#choice(device) : this.#said(USES[device.kind]));
        const use = usedAs(device);
        if (use === 'clock') {
            row.append(this.#button('follow', 'Follow', follows(device.name)), this.#button('lead', 'Lead', leads(device.name)));
            if (!clockOf(device).placed) {
                row.append(this.#button('one', 'This is one', null, 'Press it on a downbeat of a clock that runs already'));
            }
        }
        const told = document.createElement('span');
        told.className = 'small num told';
        row.append(told);

        return row;
    }

    #said(text) {
        const said = document.createElement('span');
        said.className = 'small';
        said.textContent = text;

        return said;
    }

    #choice(device) {
        const choice = document.createElement('select');
        choice.name = 'used-as';
        choice.className = 'choose slim';
        choice.setAttribute('aria-label', `What ${device.name} does`);
        choice.append(...Object.entries(USES).map(([value, text]) => new Option(text, value, false, usedAs(device) === value)));

        return choice;
    }

    #button(does, text, pressed, title = '') {
        const button = document.createElement('button');
        button.type = 'button';
        button.className = 'btn slim';
        button.dataset.does = does;
        button.textContent = text;
        button.title = title;
        if (pressed !== null) {
            button.setAttribute('aria-pressed', String(pressed));
        }

        return button;
    }

    #press(button) {
        const device = allDevices().find(({ name }) => name === button?.closest('[data-device]')?.dataset.device);
        const does = device ? button.dataset.does : '';
        if (does === 'follow') {
            if (follows(device.name)) {
                stopFollowing();
            } else {
                stopLeading(device.name);
                follow(device);
                notice(`Pestle comes in on the next downbeat of ${device.name}, and stops with it.`, { seconds: 6 });
            }
        } else if (does === 'lead') {
            if (leads(device.name)) {
                stopLeading(device.name);
            } else {
                if (follows(device.name)) {
                    stopFollowing();
                }
                lead(device);
            }
        } else if (does === 'one') {
            clockOf(device).isOne(performance.now(), page().bar);
        }
        if (does) {
            this.#draw();
        }
    }

    #tell() {
        const now = followingNow();
        const state = document.getElementById('beside-state');
        for (const row of this.querySelectorAll('[data-device]')) {
            const { device: name } = row.dataset;
            const how = now?.name === name ? told(now) : leads(name) ? 'goes by Pestle' : '';
            write(row.querySelector('.told'), how);
            row.querySelector('[data-does=one]')?.toggleAttribute('hidden', allDevices().some((device) => device.name === name && clockOf(device).placed));
        }
        if (state) {
            state.hidden = !now;
            if (now) {
                write(state.querySelector('b'), now.bpm === null ? '…' : now.bpm.toFixed(1));
                write(state.querySelector('span'), { waits: 'waits for it', plays: 'in time', away: 'clock is away' }[now.how]);
            }
        }
    }
}

/** How a clock is followed, in words. */
function told({ how, bpm, ticks, off, quarters }) {
    if (how === 'away') {
        return 'away: Pestle goes on by itself';
    }
    if (bpm === null) {
        return 'no pulses yet';
    }
    if (how === 'waits') {
        return `${bpm.toFixed(1)} BPM, waits for its start, or for “This is one”`;
    }
    const ms = 1000 * off;

    return `${bpm.toFixed(1)} BPM, beat ${Math.floor(Math.max(0, ticks) / 960) + 1}, ${Math.abs(ms).toFixed(1)} ms (${Math.abs(quarters).toFixed(3)} beats) ${ms < 0 ? 'ahead' : 'behind'}`;
}

customElements.define('pestle-beside', Beside);
