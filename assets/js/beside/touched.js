// Controls of the page as a controller moves them: known by what they set or do, so that they are found on whatever page they are.

/** What a mark of a button says while it is at work is not its name. */
const PASSING = ['data-busy', 'data-lit', 'data-learning', 'data-own', 'data-key'];

/** What was touched, as it is kept: a slider's or a button's; null where it is neither. */
export function controlOf(element) {
    const field = element.closest('[data-slider] input[type=range]');
    const under = field ? JSON.parse(field.getAttribute('hx-vals') ?? '{}').under : null;
    if (under) {
        return { name: field.name, under, label: field.getAttribute('aria-label') };
    }
    const button = element.closest('button');
    const press = button ? selectorOf(button) : null;

    return press ? { press, label: button.getAttribute('aria-label') ?? button.textContent.trim() } : null;
}

function selectorOf(button) {
    const marks = [...button.attributes].filter(({ name }) => name.startsWith('data-') && !PASSING.includes(name));
    const selectors = marks.map(({ name, value }) => `button[${name}="${CSS.escape(value)}"]`);
    if (button.getAttribute('hx-vals')) {
        selectors.push(`button[hx-vals="${CSS.escape(button.getAttribute('hx-vals'))}"]`);
    }

    return selectors.find((selector) => document.querySelectorAll(selector).length === 1) ?? null;
}

/** The slider that a control names on this page, if it is here. */
export function fieldOf({ name, under }) {
    return [...document.querySelectorAll('[data-slider] input[type=range]')].find((range) => range.name === name && JSON.parse(range.getAttribute('hx-vals') ?? '{}').under === under);
}

/** Buttons that act as long as they are held. */
const HELD = '[data-live-held], [data-choose]';
/** Pointers that stand for what holds them, by name. */
const pointers = new Map();
const FIRST_POINTER = 5000;

/** The button that a control names is pressed, and held by what has this name where holding it means something. */
export function press(control, hold) {
    const button = document.querySelector(control.press);
    if (button?.matches(HELD)) {
        pointers.set(hold, FIRST_POINTER + pointers.size);
        button.dispatchEvent(new PointerEvent('pointerdown', { bubbles: true, pointerId: pointers.get(hold) }));
    } else {
        button?.click();
    }
}

export function release(hold) {
    if (pointers.has(hold)) {
        dispatchEvent(new PointerEvent('pointerup', { pointerId: pointers.get(hold) }));
        pointers.delete(hold);
    }
}
