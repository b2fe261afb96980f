// The ground of a lane on the line of time: a canvas as large as its element, and the bars of the song.

/** {pen, width, height, colour}: emptied, in the element's own measures; colour gives one of the theme. */
export function laneOn(canvas, element) {
    const [width, height, dots] = [element.clientWidth, element.clientHeight, devicePixelRatio];
    canvas.width = width * dots;
    canvas.height = height * dots;
    const pen = canvas.getContext('2d');
    pen.scale(dots, dots);
    const style = getComputedStyle(element);

    return { pen, width, height, ink: style.color, colour: (name) => style.getPropertyValue(`--${name}`) };
}

/** Lines at bars, as many as have room. */
export function drawBarLines({ pen, width, height, colour }, bars, x, strength) {
    pen.fillStyle = colour('line');
    pen.globalAlpha = strength;
    const every = Math.max(1, Math.ceil(bars.length * 9 / width));
    bars.forEach((tick, i) => i % every === 0 && pen.fillRect(x(tick), 0, 1, height));
}
