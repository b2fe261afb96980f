// Buttons, fields and sliders that stand for a change: hx-vals holds it, the control adds its value.

import { change } from './changes.js';
import { goTo, onPage } from './page.js';
import { player } from './audio/player.js';
import { redo, undo } from './way-back.js';
import { openHelp } from './help.js';
import { follow, written } from './writing.js';

/** The change that a control stands for; with Shift held, a button may stand for another one. */
function fieldsOf(control, shifted = false) {
    const fields = JSON.parse((shifted && control.dataset.shiftVals) || control.getAttribute('hx-vals'));

    return control.name ? { ...fields, [control.name]: valueOf(control) } : fields;
}

/** What a control stands for; a slider that is finer at its low end, for a power of its way. */
function valueOf(control) {
    if (control.type === 'checkbox') {
        return control.checked ? 1 : 0;
    }
    const bend = control.closest('[data-bend]')?.dataset.bend;
    if (!bend || control.type !== 'range') {
        return control.value;
    }
    const [least, most] = [Number(control.dataset.least), Number(control.dataset.most)];

    return String(Number((least + (most - least) * control.value ** bend).toPrecision(4)));
}

/** Sets a slider to a value in its unit. */
function setTo(range, value) {
    const bend = range.closest('[data-bend]')?.dataset.bend;
    range.value = bend ? ((value - range.dataset.least) / (range.dataset.most - range.dataset.least)) ** (1 / bend) : value;
}

/**
 * Shows a slider's value in its filling, its number and to screen readers.
 *
 * @param moved whether somebody moves it: else the number is the server's, which may lie between two of its steps
 */
function show(range, moved = false) {
    const fill = (range.value - range.min) / (range.max - range.min) * 100;
    range.style.setProperty('--fill', `${fill}%`);
    const number = range.closest('[data-slider]')?.querySelector('input[type=number]')
        ?? range.closest('.channel')?.querySelector(`input[type=number][name=${range.name}]`);
    if (number) {
        const decimals = number.defaultValue.split('.')[1]?.length ?? 0;
        number.value = moved ? Number(valueOf(range)).toFixed(decimals) : number.defaultValue;
        range.setAttribute('aria-valuetext', `${number.value} ${number.nextElementSibling?.textContent ?? ''}`);
    }
}

// What htmx is about to ask goes through the queue of changes, as it was when it was pressed, or in place.
document.addEventListener('htmx:confirm', async (event) => {
    const { elt, path, triggeringEvent } = event.detail;
    const then = elt.dataset.then;
    if (path === 'changes') {
        event.preventDefault();
        // What is something else by now, after a morph, is still listened to by htmx.
        const fields = fieldsOf(elt, triggeringEvent?.shiftKey);
        if (elt.hasAttribute('hx-post') && (await written(fields) || await change(fields)) && then) {
            await goTo(then);
        }
    } else if (elt.matches('a')) {
        event.preventDefault();
        goTo(path);
    }
});

document.addEventListener('click', (event) => {
    const button = event.target.closest('button');
    if (!button || button.disabled) {
        return;
    }
    if ('undo' in button.dataset) {
        undo();
    } else if ('redo' in button.dataset) {
        redo();
    } else if ('themeSwitch' in button.dataset) {
        const theme = document.documentElement.dataset.theme === 'night' ? 'day' : 'night';
        document.documentElement.dataset.theme = theme;
        localStorage.setItem('pestle-theme', theme);
        document.dispatchEvent(new CustomEvent('pestle:theme'));
    } else if ('openKeys' in button.dataset) {
        openHelp();
    } else if ('copyBar' in button.dataset) {
        change({ type: 'reshape-pattern', pattern: button.dataset.copyBar, how: 'repeat-bar', bar: document.getElementById('copy-bar').value });
    }
});

document.addEventListener('change', ({ target }) => {
    if (target.dataset.go !== undefined) {
        goTo(target.value);
    }
});

document.addEventListener('input', (event) => {
    const range = event.target;
    if (range.type === 'range') {
        show(range, true);
        if (range.hasAttribute('hx-vals')) {
            follow(fieldsOf(range));
        }
        if ('preview' in range.dataset) {
            player.preview(fieldsOf(range));
        }
    }
});

document.addEventListener('dblclick', (event) => {
    const range = event.target;
    const initial = range.closest?.('[data-slider]')?.dataset.initial;
    if (range.type === 'range' && initial !== undefined && range.hasAttribute('hx-post')) {
        setTo(range, initial);
        show(range, true);
        htmx.trigger(range, 'change');
    }
});

document.addEventListener('keydown', (event) => {
    const control = event.target;
    if (event.key === 'Escape' && control.matches?.('input')) {
        control.value = control.defaultValue;
        if (control.type === 'range') {
            show(control);
            player.preview(null);
        }
        control.blur();
    }
});

// A number can be dragged up and down where it says so.
document.addEventListener('pointerdown', (event) => {
    const field = event.target.closest?.('input[data-scrub]');
    if (!field || document.activeElement === field) {
        return;
    }
    const from = event.clientY;
    const start = Number(field.value);
    const move = (e) => {
        const steps = Math.round((from - e.clientY) / 4);
        if (steps !== 0) {
            field.value = (start + steps * Number(field.dataset.scrub)).toFixed(2);
        }
    };
    addEventListener('pointermove', move);
    addEventListener('pointerup', () => {
        removeEventListener('pointermove', move);
        if (Number(field.value) !== start) {
            htmx.trigger(field, 'change');
        }
    }, { once: true });
});

onPage(() => {
    for (const range of document.querySelectorAll('input[type=range]')) {
        // Morphing keeps what was dragged; the page says what holds.
        range.value = range.getAttribute('value');
        show(range);
    }
});
