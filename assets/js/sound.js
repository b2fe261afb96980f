// Sound: others are heard under what plays before they are taken, by their buttons; notes by their pictures.

import { change } from './changes.js';
import { player } from './audio/player.js';
import { letGo, strikeNote } from './hands.js';
import { onPage, page } from './page.js';
import { pause } from './pause.js';

const HELD_MS = 900;
const FIRST_AMOUNT = 0.3;

function toward() {
    return { id: document.querySelector('[data-toward]').value, percent: Number(document.querySelector('[data-toward-share]').value) };
}

/** The same sound of the shelf on top of the part's own. */
function onTop(how) {
    return how.replace(/^sound\/([^/]+)\/(?:\d+\/)?shelf\//, 'stacked/$1/shelf/');
}

/** Another sound under the part's notes, and back to its own. */
function hear(how) {
    player.hear(player.hearing === how ? '' : how);
    show();
}

function show() {
    for (const button of document.querySelectorAll('[data-hear-sound]')) {
        button.setAttribute('aria-pressed', String([button.dataset.hearSound, onTop(button.dataset.hearSound)].includes(player.hearing)));
    }
    document.querySelector('[data-hear-toward]')?.setAttribute('aria-pressed', String(player.hearing.includes('/toward/')));
}

/** What notes move, as it stands on the page. */
function routes(rows = [...document.querySelectorAll('[data-route]')]) {
    return rows.map((row) => ({ ...JSON.parse(row.dataset.route), amount: Math.max(-1, Math.min(1, Number(row.querySelector('[data-route-amount]').value) / 100)) }));
}

function setRoutes(list) {
    change({ ...JSON.parse(document.querySelector('[data-routes]').dataset.routes), routes: list });
}

async function strike(pitch) {
    const hold = `seen ${pitch}`;
    strikeNote(pitch, 100, hold, performance.now());
    await pause(HELD_MS);
    letGo(hold);
}

document.addEventListener('click', (event) => {
    const { target } = event;
    const dropped = target.closest('[data-drop-route]')?.closest('[data-route]');
    if (dropped) {
        event.preventDefault();
        setRoutes(routes([...document.querySelectorAll('[data-route]')].filter((row) => row !== dropped)));
    }
    const { hearSound, hearToward, takeToward, strikeNote: pitch } = target.closest('[data-hear-sound], [data-hear-toward], [data-take-toward], [data-strike-note]')?.dataset ?? {};
    if (hearSound) {
        hear(event.shiftKey ? onTop(hearSound) : hearSound);
    } else if (hearToward) {
        const { id, percent } = toward();
        hear(`${hearToward}/toward/${id}/${percent}`);
    } else if (takeToward) {
        const { id, percent } = toward();
        change({ ...JSON.parse(takeToward), toward: id, share: percent / 100 });
    } else if (pitch) {
        strike(Number(pitch));
    }
});

document.addEventListener('change', ({ target }) => {
    if (target.dataset?.moreWaves && target.value) {
        change({ ...JSON.parse(target.dataset.moreWaves), waves: JSON.parse(target.value) });
        target.value = '';
    } else if (target.dataset?.stackPart && target.value) {
        change({ type: 'stack-sound', part: target.dataset.stackPart, of: target.value });
        target.value = '';
    } else if (target.dataset?.routeTo !== undefined && target.value) {
        setRoutes([...routes(), { by: document.querySelector('[data-route-by]').value, to: target.value, amount: FIRST_AMOUNT }]);
    } else if (target.dataset?.routeAmount !== undefined) {
        setRoutes(routes());
    } else if (target.dataset?.towardShare !== undefined && player.hearing.includes('/toward/')) {
        const { id, percent } = toward();
        player.hear(`${document.querySelector('[data-hear-toward]').dataset.hearToward}/toward/${id}/${percent}`);
        show();
    }
});

// What was taken is the part's own now; on another page nothing is compared.
let head = null;
onPage(() => {
    if (/^(sound|alone|stacked|exchanged)\//.test(player.hearing) && (page()?.workspace !== 'sound' || (head !== null && head !== page().head))) {
        player.hear('');
    }
    head = page()?.head ?? null;
    show();
});
