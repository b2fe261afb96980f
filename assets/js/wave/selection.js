// The selection in numbers: typed as seconds, beats or samples, and shown as it changes.

/** Frames of one unit of the typed selection. */
function unit(view) {
    const name = document.querySelector('[data-selection=unit]')?.value;

    return { beats: view.rate * 60 / (view.bpm || 120), samples: 1 }[name] ?? view.rate;
}

/** What a field that was typed in makes of the selection; null when it is not one of these fields. */
export function typedSelection(field, view) {
    const which = field.dataset?.selection;
    if (!which || which === 'unit') {
        return null;
    }
    const value = Number(field.value) * unit(view);
    const [start, end] = view.selection ?? [0, view.frames];
    const within = (f) => Math.round(Math.max(0, Math.min(view.frames, f)));

    return { start: [within(value), end], end: [start, within(value)], length: [start, within(start + value)] }[which];
}

/** Shows the selection, the chosen slice or the chosen line beside the wave. */
export function tellSelection(view) {
    const label = document.getElementById('slice-info');
    if (!label) {
        return;
    }
    const count = view.markers.length;
    const whole = view.mode === 'grid' ? 'All of it' : 'No slices yet';
    label.textContent = view.selection ? 'Selection' : (count === 0 ? whole : `Slice ${view.chosen + 1} of ${count}`);
    const [start, end] = view.selection ?? (count > 0 ? view.region(view.chosen) : [0, view.frames]);
    const frames = unit(view);
    for (const [name, value] of Object.entries({ start, end, length: end - start })) {
        const field = document.querySelector(`[data-selection=${name}]`);
        if (field && field !== document.activeElement) {
            // Long recordings: what fits into the field.
            field.value = frames === 1 ? value : (value / frames).toFixed(value / frames >= 1000 ? 1 : 3);
        }
    }
    for (const button of document.querySelectorAll('[data-needs-selection]')) {
        button.disabled = view.selection === null;
    }
}
