// One loop for all that is drawn as time goes: meters, lines at what plays, what is recorded.

/** Thirty pictures a second are as good as sixty for what moves here, at half the work; frames come a little early or late. */
const EVERY_MS = 30;
const drawn = new Set();
let last = 0;

/** Calls back for every picture; gives what ends it. */
export function onFrame(draw) {
    drawn.add(draw);

    return () => drawn.delete(draw);
}

function frame(now) {
    requestAnimationFrame(frame);
    if (now - last >= EVERY_MS) {
        last = now;
        drawn.forEach((draw) => draw());
    }
}
requestAnimationFrame(frame);
