// The panel beside the lanes: the chosen hit in numbers.

const SIXTEENTH = 240;

/** Fills the panel of the chosen hit; null for none. */
export function showHit(hit, lanes, drawing) {
    const name = document.getElementById('hit-name');
    if (!name) {
        return;
    }
    document.getElementById('hit-panel').toggleAttribute('data-none', !hit);
    const step = hit && Math.round(hit.tick / drawing.view.step) % drawing.steps;
    name.textContent = hit
        ? `${lanes.find((l) => l.id === hit.pad)?.name ?? 'Hit'}, ${drawing.name(step)}`
        : 'No hit chosen';
    const values = hit ? { velocity: hit.velocity, timing: hit.tick - Math.round(hit.tick / drawing.view.step) * drawing.view.step, length: hit.length / SIXTEENTH, strikes: hit.strikes, chance: hit.chance } : {};
    for (const field of ['velocity', 'timing', 'length', 'strikes', 'chance']) {
        const range = document.getElementById(`hit-${field}`);
        range.disabled = !hit;
        document.getElementById(`hit-${field}-value`).textContent = hit ? values[field] : '–';
        if (hit) {
            range.value = values[field];
        }
        range.style.setProperty('--fill', `${hit ? (range.value - range.min) / (range.max - range.min) * 100 : 0}%`);
    }
}
