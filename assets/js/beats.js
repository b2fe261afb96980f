// The list of beats: hear them, choose one by the arrow keys.

import { audio, RATE } from './audio/context.js';
import { Pieces } from './audio/pieces.js';
import { notice } from './notice.js';
import { openHelp } from './help.js';
import { write } from './write.js';

const WIDTH = 256;
let heard = null;

function rows() {
    return [...document.querySelectorAll('.beat-row:not(.unreadable)')];
}

function show() {
    for (const row of rows()) {
        const playing = heard?.row === row;
        const button = row.querySelector('[data-hear]');
        row.toggleAttribute('data-playing', playing);
        button.setAttribute('aria-pressed', String(playing));
        button.toggleAttribute('data-busy', playing && !heard.song.sounding);
        const time = row.querySelector('[data-time]');
        time.textContent = playing ? time.textContent : time.dataset.time;
        row.querySelector('.head')?.setAttribute('visibility', playing && heard.song.sounding ? 'visible' : 'hidden');
    }
}

function stop() {
    heard?.song.stop();
    heard = null;
    show();
}

async function hear(row) {
    const again = heard?.row === row;
    stop();
    const { disabled, title } = row.querySelector('[data-hear]');
    if (disabled) {
        notice(`There is nothing to hear: ${title.toLowerCase()}.`);
    }
    if (again || disabled) {
        return;
    }
    const song = new Pieces({ beat: row.dataset.beat, head: row.dataset.head, time: { bpm: 1, places: [] } }, { ended: stop, working: () => {} });
    heard = { row, song };
    show();
    try {
        await song.start();
    } catch (problem) {
        if (heard?.song === song) {
            stop();
            notice(problem instanceof TypeError ? 'The sound cannot be fetched. Is Pestle still running?' : problem.message, { bad: true });
        }
    }
    show();
    requestAnimationFrame(follow);
}

/** Moves the line over the order of patterns. */
function follow() {
    if (heard?.song.sounding) {
        const x = WIDTH * Math.min(1, Math.max(0, heard.song.position(audio().currentTime)) / heard.song.music);
        const head = heard.row.querySelector('.head');
        head.setAttribute('x1', x);
        head.setAttribute('x2', x);
        const seconds = Math.floor(x / WIDTH * heard.song.music / RATE);
        const time = heard.row.querySelector('[data-time]');
        write(time, `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')} of ${time.dataset.time}`);
        requestAnimationFrame(follow);
    }
}

document.addEventListener('click', (event) => {
    const button = event.target.closest('[data-hear]');
    if (button) {
        hear(button.closest('.beat-row'));
    }
});

document.addEventListener('keydown', (event) => {
    const all = rows();
    if (all.length === 0 || event.ctrlKey || event.metaKey || event.altKey || event.target.matches('input') || document.getElementById('keys').open) {
        return;
    }
    const chosen = event.target.closest('.beat-row');
    if (event.code === 'Space' && !event.target.matches('button, summary')) {
        event.preventDefault();
        if (event.repeat) {
            return;
        }
        hear(heard?.row ?? chosen ?? all.find((row) => !row.querySelector('[data-hear]').disabled) ?? all[0]);
    } else if (event.code === 'ArrowDown' || event.code === 'ArrowUp') {
        event.preventDefault();
        const next = chosen ? all.indexOf(chosen) + (event.code === 'ArrowDown' ? 1 : -1) : 0;
        all[Math.min(all.length - 1, Math.max(0, next))].querySelector('a').focus();
    } else if (event.key === '?') {
        openHelp();
    }
});
