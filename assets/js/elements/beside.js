// What stands beside, one row a device: whom Pestle follows or leads, and what is to be known of each.

import { answering, gateNoise, giveUp, lastAnswer, recordAnswer } from '../beside/answer.js';
import { allDevices, askBrowser, onDevices } from '../beside/devices.js';
import { clockOf, follow, followingNow, follows, stopFollowing } from '../beside/following.js';
import { tellControllers } from '../beside/feedback.js';
import { lead, leads, stopLeading } from '../beside/leading.js';
import { carriedOut, carryIn, forget, forgetAll, mappingOf, remember } from '../beside/mapping.js';
import { playOut, playsOut, stopPlayingOut } from '../beside/playing-out.js';
import { usedAs, useAs } from '../beside/uses.js';
import { learnControl, learnPlace, say } from '../midi.js';
import { notice } from '../notice.js';
import { onPage, page } from '../page.js';
import { write } from '../write.js';

const TOLD_MS = 250;
const USES = { controller: 'plays Pestle', clock: 'keeps time', module: 'sounds' };

class Beside extends HTMLElement {
    #telling = null;

    connectedCallback() {
        onDevices(this, () => this.draw());
        onPage(() => this.isConnected && this.draw());
        this.addEventListener('click', (event) => this.#press(event.target.closest('button')));
        this.addEventListener('change', ({ target }) => {
            if (target.name === 'used-as') {
                useAs(target.closest('[data-device]').dataset.device, target.value);
            } else if (target.name === 'takes-hold') {
                remember(target.closest('[data-device]').dataset.device, 'take', null, target.value);
            }
            this.draw();
        });
        this.#telling = setInterval(() => this.#tell(), TOLD_MS);
        this.draw();
    }

    disconnectedCallback() {
        onDevices(this, null);
        clearInterval(this.#telling);
    }

    draw() {
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
        if (use === 'controller') {
            row.append(this.#hold(device), this.#button('told', 'Lights', mappingOf(device.name).told ?? device.place !== undefined, 'It is told which of its pads hold something, and where its sliders stand'), this.#button('forget', 'Forget', null, 'What was learned of it'));
        }
        if (use === 'module') {
            row.append(...this.#module(device));
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

    /** What can be done with a box that sounds. */
    #module(device) {
        if (answering(device.name)) {
            return [this.#button('give-up', 'Give up', null)];
        }
        const { outside = [] } = page() ?? {};
        const gate = lastAnswer(device.name) ? [this.#button('gate', 'Gate its noise', null, 'Between its notes its hiss and hum are closed out')] : [];
        if (outside.length === 0) {
            return [this.#said('no part on keys plays here'), ...gate];
        }
        const choice = document.createElement('select');
        choice.className = 'choose slim';
        choice.name = 'plays-outside';
        choice.setAttribute('aria-label', `What ${device.name} plays`);
        choice.append(...outside.map(({ name }, i) => new Option(name, i)));

        return [choice, this.#button('play-out', 'Play it', playsOut(device.name), 'While the section goes round, and by the keys'), this.#button('answer', 'Record its answer', null, 'It plays the part in real time; its sound takes the part\'s place, and the part can be had back'), ...gate];
    }

    #hold(device) {
        const choice = document.createElement('select');
        choice.name = 'takes-hold';
        choice.className = 'choose slim';
        choice.setAttribute('aria-label', `How sliders of ${device.name} take hold`);
        choice.append(...Object.entries({ jump: 'sliders jump', 'pick-up': 'sliders pick up' }).map(([value, text]) => new Option(text, value, false, mappingOf(device.name).take === value)));

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
        } else if (does === 'told') {
            remember(device.name, 'told', null, button.getAttribute('aria-pressed') !== 'true');
            tellControllers();
        } else if (does === 'forget') {
            forget(device.name);
        } else if (does === 'play-out') {
            if (playsOut(device.name)) {
                stopPlayingOut();
            } else {
                playOut(device, page().outside[Number(button.parentElement.querySelector('[name=plays-outside]').value)]).then(() => this.draw());
            }
        } else if (does === 'answer') {
            stopPlayingOut();
            const { entry, part, name } = page().outside[Number(button.parentElement.querySelector('[name=plays-outside]').value)];
            recordAnswer(device, entry, part, name).finally(() => this.draw());
        } else if (does === 'give-up') {
            giveUp();
        } else if (does === 'gate') {
            gateNoise(device.name).finally(() => this.draw());
        } else if (does === 'one') {
            clockOf(device).isOne(performance.now(), page().bar);
        }
        if (does) {
            this.draw();
        }
    }

    #tell() {
        const now = followingNow();
        const state = document.getElementById('beside-state');
        for (const row of this.querySelectorAll('[data-device]')) {
            const { device: name } = row.dataset;
            const answer = answering(name);
            const how = answer ? `records: ${Math.round(100 * answer.done)} %` : now?.name === name ? told(now) : leads(name) ? 'goes by Pestle' : row.querySelector('[data-does=forget]') ? known(name) : '';
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

/** What was learned of a controller, in words. */
function known(name) {
    const { places, sliders } = mappingOf(name);
    const [pads, controls] = [Object.keys(places).length, Object.keys(sliders).length];

    return pads + controls === 0 ? 'pads from C1 on' : [pads > 0 ? `${pads} pads` : '', controls > 0 ? `${controls} ${controls === 1 ? 'control' : 'controls'}` : ''].filter(Boolean).join(', ');
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

/** All that is known of controllers, as a file to keep. */
function save() {
    const link = document.createElement('a');
    link.href = URL.createObjectURL(carriedOut());
    link.download = 'controllers.json';
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 1000);
}

async function load(file) {
    try {
        notice(`Known by now: ${carryIn(await file.text()).join(', ') || 'nothing new'}.`);
        document.querySelectorAll('pestle-beside').forEach((list) => list.draw());
    } catch (problem) {
        notice(problem.message, { bad: true });
    }
}

document.addEventListener('click', ({ target }) => {
    const is = (name) => target.closest(`[data-controllers-${name}]`);
    if (is('connect')) {
        askBrowser().then(say);
    } else if (is('learn')) {
        learnPlace(0);
    } else if (is('slider')) {
        learnControl();
    } else if (is('forget')) {
        forgetAll();
        say('All that was learned is forgotten.');
    } else if (is('save')) {
        save();
    } else if (target.closest('[data-controllers]')) {
        const panel = document.getElementById('controllers');
        panel.hidden = !panel.hidden;
    }
});
document.addEventListener('change', ({ target }) => {
    if (target.matches('[data-controllers-load]') && target.files.length > 0) {
        load(target.files[0]);
        target.value = '';
    }
});
