// The quiet line: what happened, in words, with one or two things to do about it.

export const NO_ANSWER = 'Pestle did not answer as expected. Is it still running?';

let timer = null;

export function notice(text, { bad = false, actions = {}, seconds = bad ? 15 : 6 } = {}) {
    const line = document.getElementById('notice');
    line.replaceChildren(document.createTextNode(text));
    line.dataset.tone = bad ? 'bad' : 'calm';
    for (const [label, act] of Object.entries({ ...actions, ...(bad ? { Close: () => {} } : {}) })) {
        const button = document.createElement('button');
        button.textContent = label;
        button.addEventListener('click', () => {
            line.hidden = true;
            act();
        });
        line.append(button);
    }
    line.hidden = false;
    clearTimeout(timer);
    timer = setTimeout(() => { line.hidden = true; }, 1000 * seconds);
}

/** What an answer to a request of htmx says, with a sentence when it cannot be read. */
export function said(xhr) {
    try {
        return JSON.parse(xhr.response);
    } catch {
        return { error: NO_ANSWER };
    }
}
