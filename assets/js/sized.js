// How large things are on the page, so that what is drawn with every frame need not have the page laid out anew to know.

const sizes = new WeakMap();
const measure = (element) => sizes.set(element, [element.clientWidth, element.clientHeight]);
const watch = new ResizeObserver((entries) => entries.forEach(({ target }) => measure(target)));

/** Width and height: measured once, then whenever they change. */
function sizeOf(element) {
    if (!sizes.has(element)) {
        measure(element);
        watch.observe(element);
    }

    return sizes.get(element);
}

/** A canvas gets as many dots as there are where it lies; tells whether that emptied it. */
export function fill(canvas, width = canvas, height = width) {
    const [across, down] = [sizeOf(width)[0], sizeOf(height)[1]].map((points) => Math.round(points * devicePixelRatio));
    if (canvas.width === across && canvas.height === down) {
        return false;
    }
    canvas.width = across;
    canvas.height = down;

    return true;
}
