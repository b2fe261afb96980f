// Text that is looked at with every frame: what says the same already is left alone, so that the page need not be laid out anew.

export function write(element, text) {
    if (element.textContent !== text) {
        element.textContent = text;
    }
}
