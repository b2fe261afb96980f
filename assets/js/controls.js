// Buttons, fields and sliders that stand for a change: data-change holds it, the control adds its value.

import { change } from './changes.js';
import { goTo, onPage } from './page.js';
import { player } from './audio/player.js';
import { redo, undo } from './way-back.js';

function fieldsOf(control) {
    const fields = JSON.parse(control.dataset.change);

    return control.name ? { ...fields, [control.name]: valueOf(control) } : fields;
}

/** What a control stands for; a slider that is finer at its low end, for a power of its way. */
function valueOf(control) {
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

async function submit(control) {
    const then = control.dataset.then;
    if (await change(fieldsOf(control)) && then) {
        await goTo(then);
    }
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

document.addEventListener('click', (event) => {
    const button = event.target.closest('button');
    if (!button || button.disabled) {
        return;
    }
    if (event.shiftKey && button.dataset.shiftChange) {
        change(JSON.parse(button.dataset.shiftChange));
    } else if (button.dataset.change) {
        submit(button);
    } else if ('undo' in button.dataset) {
        undo();
    } else if ('redo' in button.dataset) {
        redo();
    } else if ('themeSwitch' in button.dataset) {
        const theme = document.documentElement.dataset.theme === 'night' ? 'day' : 'night';
        document.documentElement.dataset.theme = theme;
        localStorage.setItem('pestle-theme', theme);
        document.dispatchEvent(new CustomEvent('pestle:theme'));
    } else if ('openKeys' in button.dataset) {
        document.getElementById('keys').showModal();
    } else if ('copyBar' in button.dataset) {
        change({ type: 'reshape-pattern', pattern: button.dataset.copyBar, how: 'repeat-bar', bar: document.getElementById('copy-bar').value });
    }
});

document.addEventListener('change', (event) => {
    const control = event.target;
    if (control.dataset.go !== undefined) {
        goTo(control.value);
    } else if (control.dataset.tickChange) {
        change({ ...JSON.parse(control.dataset.tickChange), [control.dataset.tickName]: control.checked ? 1 : 0 });
    } else if (control.dataset.change && control.tagName !== 'BUTTON') {
        submit(control);
    }
});

document.addEventListener('input', (event) => {
    const range = event.target;
    if (range.type === 'range') {
        show(range, true);
        if ('preview' in range.dataset) {
            player.preview(fieldsOf(range));
        }
    }
});

document.addEventListener('dblclick', (event) => {
    const range = event.target;
    const initial = range.closest?.('[data-slider]')?.dataset.initial;
    if (range.type === 'range' && initial !== undefined && range.dataset.change) {
        setTo(range, initial);
        show(range, true);
        submit(range);
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
            submit(field);
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
