// What a device is used as, kept by its name: a program says itself what it is, a MIDI port may be anything.

const NAME = 'pestle-beside';

function uses() {
    return JSON.parse(localStorage.getItem(NAME) ?? '{}');
}

/** @returns {'controller'|'clock'|'module'} */
export function usedAs(device) {
    return device.place === undefined ? uses()[device.name] ?? 'controller' : device.kind;
}

export function useAs(name, use) {
    localStorage.setItem(NAME, JSON.stringify({ ...uses(), [name]: use }));
}
