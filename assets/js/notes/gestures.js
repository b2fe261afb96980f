// What can be done to the notes of the note view, by whatever hand: each is one change, and is heard.

import { change } from '../changes.js';
import { player } from '../audio/player.js';
import { strikeNote } from '../hands.js';

export class NotesGestures {
    /** How long and strong the next note is: as the one that was touched last. */
    length = 240;
    velocity = 100;

    constructor(element, view, drawing) {
        Object.assign(this, { element, view, drawing });
    }

    snap(tick) {
        return Math.round(tick / this.view.grid) * this.view.grid;
    }

    /** What the notes are becomes a change: those that moved are taken from where they were. */
    send(gesture, put, take = []) {
        const there = new Set(put.map((n) => `${n.tick} ${n.pitch}`));
        change({
            type: 'edit-notes', pattern: this.element.dataset.pattern, gesture,
            notes: put.filter((n) => n.tick < this.view.ticks).map((n) => [n.tick, n.pitch, n.velocity, n.length, n.chance, ...(n.group || (n.thrown ?? null) !== null ? [n.fine ?? 0, n.fineLength ?? 0, n.group || null, n.thrown ?? null] : n.fine || n.fineLength ? [n.fine, n.fineLength] : [])]),
            take: take.filter((n) => !there.has(`${n.tick} ${n.pitch}`)).map((n) => [n.tick, n.pitch]),
        });
    }

    hear(note) {
        const what = document.getElementById('notes-hear')?.value ?? 'note';
        if (what === 'none' || player.playing) {
            return;
        }
        const chord = what === 'chord' ? this.view.notes.filter((n) => n !== note && n.tick < note.tick + note.length && n.tick + n.length > note.tick) : [];
        for (const { pitch, velocity } of [note, ...chord]) {
            strikeNote(pitch, velocity);
        }
    }

    /** The chosen notes moved by so many ticks and rows of their own. */
    shift(gesture, ticks, pitched) {
        const was = [...this.view.chosen].map((n) => ({ ...n }));
        for (const note of this.view.chosen) {
            note.tick = Math.max(0, Math.min(this.view.ticks - 1, note.tick + ticks));
            note.fine = ticks === 0 ? note.fine : 0;
            note.pitch = Math.max(0, Math.min(127, pitched(note.pitch)));
        }
        if (was.length > 0) {
            this.hear([...this.view.chosen][0]);
            this.send(gesture, [...this.view.chosen], was);
            this.drawing.paint();
        }
    }

    /** The next note of the scale up or down. */
    inScale(pitch, way) {
        const { scale } = this.view;
        let next = pitch + way;
        while (scale.length > 0 && !scale.includes(((next % 12) + 12) % 12)) {
            next += way;
        }

        return next;
    }
}
