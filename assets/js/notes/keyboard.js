// The note view by keyboard: a cursor, the chosen notes, copy and paste.

import { player } from '../audio/player.js';

let clipboard = [];

export class NotesKeyboard {
    /**
     * @param moved called when the cursor went somewhere else
     * @param said  called when there is something to say to those who don't see
     */
    constructor(view, drawing, gestures, pointer, moved, said) {
        Object.assign(this, { view, drawing, gestures, pointer, moved, said });
    }

    key(event) {
        const view = this.view;
        const chosen = [...view.chosen];
        const way = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: 1, ArrowDown: -1 }[event.key];
        const level = event.key === 'ArrowLeft' || event.key === 'ArrowRight';
        if ((event.ctrlKey || event.metaKey) && ['KeyC', 'KeyV', 'KeyD'].includes(event.code)) {
            if (event.code === 'KeyC') {
                const from = Math.min(...chosen.map((n) => n.tick));
                clipboard = chosen.map((n) => ({ ...n, tick: n.tick - from }));
            } else {
                const from = event.code === 'KeyV' ? this.gestures.snap(this.#place()) : Math.max(0, ...chosen.map((n) => n.tick + n.length)) - Math.min(...chosen.map((n) => n.tick));
                const put = (event.code === 'KeyV' ? clipboard : chosen).map((n) => ({ ...n, tick: n.tick + from })).filter((n) => n.tick < view.ticks);
                if (put.length > 0) {
                    view.notes.push(...put);
                    view.chosen = new Set(put);
                    this.gestures.send('paste', put);
                }
            }
        } else if (event.ctrlKey || event.metaKey || event.altKey) {
            return;
        } else if (event.key === 'Escape') {
            this.pointer.giveUp();
            view.chosen = new Set();
        } else if (way !== undefined && chosen.length > 0) {
            if (event.shiftKey && level) {
                const was = chosen.map((n) => ({ ...n }));
                chosen.forEach((n) => { n.length = Math.max(30, n.length + way * view.grid); });
                this.gestures.length = chosen[0].length;
                this.gestures.send('length', chosen, was);
            } else if (event.shiftKey) {
                chosen.forEach((n) => { n.velocity = Math.max(1, Math.min(127, n.velocity + 8 * way)); });
                this.gestures.send('velocity', chosen);
            } else {
                this.gestures.shift('move', level ? way * view.grid : 0, (pitch) => (level ? pitch : view.rows[view.rows.indexOf(pitch) - way] ?? pitch));
            }
        } else if (way !== undefined) {
            view.cursor.tick = Math.max(0, Math.min(view.ticks - view.grid, level ? view.cursor.tick + way * view.grid : view.cursor.tick));
            view.cursor.pitch = level ? view.cursor.pitch : view.rows[view.rows.indexOf(view.cursor.pitch) - way] ?? view.cursor.pitch;
            this.moved();
        } else if (event.key === 'PageUp' || event.key === 'PageDown') {
            this.gestures.shift('transpose', 0, (pitch) => pitch + (event.key === 'PageUp' ? 12 : -12));
        } else if (event.code === 'KeyX' && chosen.length === 0) {
            const note = { tick: view.cursor.tick, pitch: view.cursor.pitch, velocity: this.gestures.velocity, length: this.gestures.length, chance: 100 };
            view.notes.push(note);
            this.gestures.hear(note);
            this.gestures.send('place', [note]);
        } else if (event.key === 'Delete' || event.key === 'Backspace' || event.code === 'KeyX') {
            const under = chosen.length > 0 ? chosen : view.notes.filter((n) => n.pitch === view.cursor.pitch && n.tick <= view.cursor.tick && n.tick + n.length > view.cursor.tick);
            if (under.length > 0) {
                view.notes = view.notes.filter((n) => !under.includes(n));
                view.chosen = new Set();
                this.gestures.send('remove', [], under);
            }
        } else if (event.code === 'KeyA') {
            view.chosen = new Set(view.notes);
        } else {
            return;
        }
        event.preventDefault();
        event.stopPropagation();
        this.said();
        this.drawing.paint();
    }

    /** Where what is pasted goes: at the playhead, or at the cursor while nothing plays. */
    #place() {
        return player.playing && player.what === 'loop' ? player.ticks() % this.view.ticks : this.view.cursor.tick;
    }
}
