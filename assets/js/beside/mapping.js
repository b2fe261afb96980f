// What is known of controllers, kept by the name of each: which of its pads is which place of the dock, which slider, turner or
// button moves what, and how its sliders take hold. Carried out and in as a file.

const NAME = 'pestle-controllers';
const FILE = 'pestle-controllers';
/** So many messages of a turner are looked at before it is known as one. */
const LOOKED_AT = 4;
const STEPS = 16;
/** How a button of the page is named: by one of its marks. */
const BUTTON = /^button\[[a-z-]+="(?:[^"\\]|\\.)*"\]$/s;

/** @typedef control {name, under, label} for a slider of the page, {press: label} for a button; and {turns: true} where it has no end */
/** @typedef mapping {places: {note: place}, sliders: {number: control}, take: "jump" or "pick-up"} */

/** @returns {Object<string, mapping>} */
export function mappings() {
    return JSON.parse(localStorage.getItem(NAME) ?? '{}');
}

export function mappingOf(device) {
    return { places: {}, sliders: {}, take: 'jump', ...mappings()[device] };
}

function keep(all) {
    localStorage.setItem(NAME, JSON.stringify(all));
}

export function remember(device, what, from, to) {
    const mapping = mappingOf(device);
    keep({ ...mappings(), [device]: { ...mapping, [what]: from === null ? to : { ...mapping[what], [from]: to } } });
}

export function forget(device) {
    const all = mappings();
    delete all[device];
    keep(all);
}

export function forgetAll() {
    localStorage.removeItem(NAME);
}

/** All that is known, as a file. */
export function carriedOut() {
    return new File([JSON.stringify({ [FILE]: 1, controllers: mappings() }, null, 2)], 'controllers.json', { type: 'application/json' });
}

/**
 * Takes in what a file knows; what is known of other controllers stays.
 *
 * @returns {string[]} names of the controllers that it tells of
 *
 * @throws {Error} with what is wrong
 */
export function carryIn(text) {
    let said;
    try {
        said = JSON.parse(text);
    } catch {
        throw new Error('This is no file of controllers: it is not JSON.');
    }
    if (said?.[FILE] !== 1 || typeof said.controllers !== 'object' || said.controllers === null) {
        throw new Error(`This is no file of controllers: "${FILE}": 1 is missing.`);
    }
    const all = {};
    for (const [device, { places = {}, sliders = {}, take = 'jump', told }] of Object.entries(said.controllers)) {
        const whole = (value, most) => Number.isInteger(value) && value >= 0 && value <= most;
        if (!Object.entries(places).every(([note, place]) => whole(Number(note), 127) && whole(place, 127)) || !['jump', 'pick-up'].includes(take)) {
            throw new Error(`What the file says of ${device} cannot be read: notes and places go from 0 to 127, "take" is "jump" or "pick-up".`);
        }
        if (!Object.values(sliders).every((control) => (typeof control?.press === 'string' ? BUTTON.test(control.press) : typeof control?.label === 'string'))) {
            throw new Error(`What the file says of ${device} cannot be read: a control has a "label", and "press" names one button by a mark of it.`);
        }
        all[device] = { places, sliders, take, ...(told === undefined ? {} : { told: told === true }) };
    }
    keep({ ...mappings(), ...all });

    return Object.keys(all);
}

/** How far a turner without end was turned, by a value in two's complement. */
export function steps(value) {
    return value < 64 ? value : value - 128;
}

/**
 * Whether values of a control, the last ones in order, are turns of one without end and not places of one that has ends: small
 * steps, some of them equal to the one before, which a place never is.
 */
export function areTurns(values) {
    return values.length >= LOOKED_AT && values.every((value) => Math.abs(steps(value)) < STEPS && value !== 0) && values.some((value, i) => value === values[i - 1]);
}

/**
 * Whether a slider takes hold of what it moves: at once, or where it comes by where that stands.
 *
 * @param {'jump'|'pick-up'} take
 * @param {number|null} before where it stood, 0 to 1, null when that is not known
 * @param {number} now         where it stands
 * @param {number} there       where what it moves stands
 */
export function takesHold(take, before, now, there) {
    return take === 'jump' || Math.abs(now - there) < 0.02 || (before !== null && (before - there) * (now - there) <= 0);
}
