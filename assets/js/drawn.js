// Curves fill the room there is; their letters and handles stay as large as elsewhere. How far a drawing is stretched is told to
// its style as --ux and --uy, units of the drawing in a point of the screen.

import { onPage } from './page.js';

function tell(svg) {
    const { width, height } = svg.viewBox.baseVal;
    const box = svg.getBoundingClientRect();
    if (box.width > 0 && box.height > 0) {
        svg.style.setProperty('--ux', width / box.width);
        svg.style.setProperty('--uy', height / box.height);
    }
}

const resized = new ResizeObserver((entries) => entries.forEach(({ target }) => tell(target)));

onPage(() => {
    resized.disconnect();
    for (const svg of document.querySelectorAll('svg.drawn')) {
        tell(svg);
        resized.observe(svg);
    }
});
