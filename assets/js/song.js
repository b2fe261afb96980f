// Arrange: cells by keyboard, sections dragged into order, what plays and what comes.

import { onFrame } from './frames.js';
import { change } from './changes.js';
import { goTo, onPage, page } from './page.js';
import { player } from './audio/player.js';
import { songPlace } from './transport.js';
import { write } from './write.js';

let dragged = null;

/** @returns {[string, string][]} entries of the song, each with its section */
function song() {
    return JSON.parse(document.getElementById('song-grid')?.dataset.song ?? '[]');
}

/** Changes the song as it is when its turn has come. */
function set(edit) {
    change(() => {
        const entries = song();
        edit(entries, (id) => entries.findIndex(([own]) => own === id));

        return { type: 'set-song', entries };
    });
}

/** Puts an entry so many places later, or where another one is. */
function move(id, later, onto = null) {
    set((entries, placeOf) => {
        const from = placeOf(id);
        const to = onto === null ? from + later : placeOf(onto);
        if (from >= 0 && to >= 0 && to < entries.length) {
            entries.splice(to, 0, ...entries.splice(from, 1));
        }
    });
}

document.addEventListener('click', (event) => {
    const button = event.target.closest('[data-song-move], [data-song-out], [data-song-again], [data-song-from]');
    if (!button) {
        return;
    }
    const { songMove, songOut, songAgain, songFrom, entry } = button.dataset;
    if (songFrom) {
        player.playSong(page().song.find(({ id }) => id === songFrom).segment);
    } else if (songOut) {
        set((entries, placeOf) => entries.splice(placeOf(songOut), 1));
    } else if (songAgain) {
        set((entries, placeOf) => entries.splice(placeOf(songAgain) + 1, 0, [button.dataset.id, entries[placeOf(songAgain)][1]]));
    } else {
        move(entry, Number(songMove));
    }
});

document.addEventListener('click', ({ target }) => {
    const button = target.closest?.('[data-splice]');
    const place = button?.closest('[data-bars-of]');
    if (place) {
        const [bar, bars] = ['from', 'count'].map((name) => place.querySelector(`[data-bars-${name}]`).value);
        change({ type: 'splice-section', section: place.dataset.barsOf, how: button.dataset.splice, bar, bars });
    }
});

document.addEventListener('change', ({ target }) => {
    if (target.dataset?.songAdd !== undefined && target.value) {
        const { dataset: { songAdd }, value } = target;
        set((entries) => entries.push([songAdd, value]));
    } else if (target.dataset?.cellTo && target.value) {
        change({ ...JSON.parse(target.dataset.cellTo), section: target.value });
    }
});

document.addEventListener('dblclick', (event) => {
    const cell = event.target.closest('.cell[data-open]');
    if (cell) {
        goTo(cell.dataset.open);
    }
});

document.addEventListener('keydown', (event) => {
    const cell = event.target.closest?.('.cell');
    const head = event.target.closest?.('.section-head');
    if (event.ctrlKey || event.metaKey || event.altKey) {
        return;
    }
    if (head && event.shiftKey && (event.key === 'ArrowLeft' || event.key === 'ArrowRight')) {
        event.preventDefault();
        move(head.dataset.songPlace, event.key === 'ArrowLeft' ? -1 : 1);

        return;
    }
    if (!cell) {
        return;
    }
    const [row, column] = [Number(cell.dataset.row), Number(cell.dataset.column)];
    const steps = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] };
    if (event.key in steps) {
        const [down, right] = steps[event.key];
        document.querySelector(`.cell[data-row="${row + down}"][data-column="${column + right}"]`)?.focus();
    } else if (event.key === 'Delete' || event.key === 'Backspace') {
        change({ type: 'set-cell', ...JSON.parse(cell.dataset.cell), pattern: '' });
    } else if (event.key === 'm') {
        change({ type: 'set-cell', ...JSON.parse(cell.dataset.cell), entry: cell.dataset.here, mute: 'muted' in cell.dataset ? 0 : 1 });
    } else if (event.key === 'Enter') {
        goTo(cell.dataset.open);
    } else {
        return;
    }
    event.preventDefault();
});

document.addEventListener('dragstart', (event) => {
    const head = event.target.closest?.('.section-head');
    if (head) {
        dragged = head.dataset.songPlace;
        event.dataTransfer.effectAllowed = 'move';
        event.dataTransfer.setData('text/plain', head.textContent.trim());
    }
});

function over(target) {
    for (const head of document.querySelectorAll('.section-head')) {
        head.toggleAttribute('data-over', head === target);
    }
}

document.addEventListener('dragover', (event) => {
    const head = dragged === null ? null : event.target.closest?.('.section-head');
    if (head) {
        event.preventDefault();
        over(head);
    }
});

document.addEventListener('drop', (event) => {
    const head = dragged === null ? null : event.target.closest?.('.section-head');
    if (head) {
        event.preventDefault();
        event.stopPropagation();
        move(dragged, 0, head.dataset.songPlace);
    }
});

document.addEventListener('dragend', () => {
    dragged = null;
    over(null);
});

// Columns as wide as their sections last: the page may carry no styles of its own.
onPage(() => {
    const grid = document.getElementById('song-grid');
    if (grid) {
        grid.style.gridTemplateColumns = grid.dataset.columns;
    }
});

/** Which bar of how many of what, which repeat, and what comes in how many bars. */
function told({ entry, repeat, inside, next, bars }) {
    const all = Math.ceil(entry.ticks / entry.bar);
    const turn = entry.repeats > 1 ? `, ${repeat} of ${entry.repeats}` : '';

    return `${entry.name}${turn}, bar ${Math.floor(inside * entry.ticks / entry.bar) + 1} of ${all} · ${next ? `${next.name} in` : 'ends in'} ${bars} ${bars === 1 ? 'bar' : 'bars'}`;
}

/** Shows which section plays, how often it was, and what comes in how many bars. */
function frame() {
    const now = document.getElementById('song-now');
    const places = document.querySelectorAll('[data-song-place]');
    if ((places.length === 0 && !now) || !page()) {
        return;
    }
    const playing = player.playing && player.what === 'song' ? songPlace() : null;
    const looped = player.playing && player.what === 'loop' ? player.loop?.section : null;
    const { song: entries } = page();
    for (const head of places) {
        const entry = entries.find((e) => e.id === head.dataset.songPlace);
        const own = playing?.entry ? playing.entry.id === entry.id : looped !== null && entry.section === looped;
        head.toggleAttribute('data-playing', Boolean(own));
        head.toggleAttribute('data-waiting', Boolean(playing?.next?.id === entry.id && !own));
        const line = head.querySelector('.head');
        if (line) {
            line.style.width = own && playing?.entry ? `${100 * (playing.repeat - 1 + playing.inside) / entry.repeats}%` : '0';
        }
    }
    if (now) {
        write(now, playing?.entry ? told(playing) : '');
    }
}
onFrame(frame);
