// Keys, by position on the keyboard where they are pads.

import { redo, undo } from './way-back.js';
import { strikeKey } from './dock.js';
import { compareMixes } from './compare.js';
import { compare } from './feel.js';
import { letGo } from './hands.js';
import { rolls, setRoll } from './roll.js';
import { goTo, page } from './page.js';
import { player } from './audio/player.js';
import { recorder } from './recorder.js';
import { tapAlong, toggleClick, toggleErase, toggleRecord } from './transport.js';
import { openHelp } from './help.js';

const PADS = {
    KeyQ: 'Q', KeyW: 'W', KeyE: 'E', KeyR: 'R', KeyU: 'U', KeyI: 'I', KeyO: 'O', KeyP: 'P',
    KeyA: 'A', KeyS: 'S', KeyD: 'D', KeyF: 'F', KeyJ: 'J', KeyK: 'K', KeyL: 'L', Semicolon: ';',
};

function typing(element) {
    return element.matches('input:not([type=range]):not([type=radio]):not([type=checkbox]), textarea, select');
}

document.addEventListener('keydown', (event) => {
    if (!page() || typing(event.target) || document.getElementById('keys').open) {
        return;
    }
    if ((event.ctrlKey || event.metaKey) && event.code === 'KeyZ') {
        event.preventDefault();
        (event.shiftKey ? redo : undo)();

        return;
    }
    if (event.ctrlKey || event.metaKey || event.altKey) {
        return;
    }
    if (event.key === '?') {
        openHelp();
    } else if (event.code === 'Space') {
        event.preventDefault();
        if (event.repeat || !tapAlong(event.timeStamp)) {
            player.toggle();
        }
    } else if (event.code in PADS) {
        event.preventDefault();
        if (!event.repeat && !tapAlong(event.timeStamp)) {
            strikeKey(PADS[event.code], event.shiftKey, event.timeStamp);
        }
    } else if (event.code === 'Enter' && !event.target.matches('a, button, input, summary')) {
        toggleRecord();
    } else if (event.code === 'KeyB' && !event.defaultPrevented) {
        compareMixes() || compare();
    } else if (event.code === 'KeyG' && !event.defaultPrevented && !event.repeat) {
        toggleErase();
    } else if (event.code === 'KeyH' && !event.repeat) {
        recorder.keep();
    } else if (event.code === 'Backspace' && !event.defaultPrevented && !event.target.matches('[draggable], [data-place]')) {
        recorder.takeBack();
    } else if (event.code === 'KeyC') {
        toggleClick();
    } else if (event.code === 'KeyN' && !event.repeat) {
        setRoll(!rolls());
    } else if (/^Digit[1-8]$/.test(event.code)) {
        const link = document.querySelectorAll('[data-workspace]')[Number(event.code.slice(5)) - 1];
        goTo(link.getAttribute('href'));
    } else if (!event.defaultPrevented && (event.code === 'Comma' || event.code === 'Period')) {
        const banks = [...document.querySelectorAll('.banks a')];
        const at = banks.findIndex((bank) => bank.hasAttribute('aria-current'));
        const next = banks[at + (event.code === 'Comma' ? -1 : 1)];
        if (next) {
            goTo(next.getAttribute('href'));
        }
    }
});

// Space is the transport's: a focused button must not answer it as well.
document.addEventListener('keyup', (event) => {
    if (event.code === 'Space' && page() && !typing(event.target)) {
        event.preventDefault();
    }
    if (event.code in PADS) {
        letGo(`key ${PADS[event.code]}`);
    }
});
