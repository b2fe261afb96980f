// One loop for all that is drawn as time goes: meters, lines at what plays, what is recorded.

/** Thirty pictures a second are as good as sixty for what moves here, at half the work. */
const EVERY_MS = 30;
/** Between two pictures of a screen, about. */
const PICTURE_MS = 12;
/** Where drawing is slow it gets one part in so many of the time, and still some pictures a second. */
const PART = 5;
const MOST_MS = 200;
const drawn = new Set();
let every = EVERY_MS;

/** Calls back for every picture; gives what ends it. */
export function onFrame(draw) {
    drawn.add(draw);

    return () => drawn.delete(draw);
}

/** Asked for only when the next is due: a picture costs the browser much also where nothing is drawn. */
function next() {
    setTimeout(() => requestAnimationFrame(frame), every - PICTURE_MS);
}

function frame() {
    next();
    const begun = performance.now();
    drawn.forEach((draw) => draw());
    every = Math.min(MOST_MS, Math.max(EVERY_MS, PART * (performance.now() - begun)));
}
next();
