// How it is recorded: kept with the browser, as it belongs to who plays, not to the beat.

const NAME = 'pestle-recording';

export const recording = {
    mode: 'overdub', strength: 100, countIn: 1, click: 'wood', clickDb: 0, latency: 0,
    ...JSON.parse(localStorage.getItem(NAME) ?? '{}'),
};

export function setRecording(name, value) {
    recording[name] = ['mode', 'click'].includes(name) ? value : Number(value);
    localStorage.setItem(NAME, JSON.stringify(recording));
    showRecording();
}

const UNITS = { strength: (v) => (v === 0 ? 'as played' : `${v} %`), clickDb: (v) => `${v} dB` };

/** Puts what is set into the controls. */
export function showRecording() {
    for (const control of document.querySelectorAll('[data-rec]')) {
        const value = recording[control.dataset.rec];
        if (control.type === 'radio') {
            control.checked = control.value === value;
        } else {
            control.value = String(value);
        }
        if (control.type === 'range') {
            control.style.setProperty('--fill', `${(control.value - control.min) / (control.max - control.min) * 100}%`);
            control.parentElement.querySelector('output').textContent = UNITS[control.dataset.rec](value);
        }
    }
}

for (const name of ['input', 'change']) {
    document.addEventListener(name, ({ target }) => {
        if (target.dataset?.rec && target.value !== '') {
            setRecording(target.dataset.rec, target.value);
        }
    });
}
