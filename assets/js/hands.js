// Striking pads and notes by whatever hand: pointer, key, controller, roll. They sound at once, light with their velocity and are recorded.

import { page } from './page.js';
import { player } from './audio/player.js';
import { audio, heardAt } from './audio/context.js';
import { release, strike } from './audio/pads.js';
import { recorder } from './recorder.js';

/** What is held: {letGo, source, velocity, roll} by the name of what holds it. */
const held = new Map();
const turns = new Map();

/** What playing a pad takes, as the page was told. */
export function playOf(id) {
    const element = document.getElementById(`pad-${id}`);

    return element?.dataset.play ? JSON.parse(element.dataset.play) : null;
}

/** The strength a pad's sound was rendered at. */
function renderedAt(play, velocity) {
    return play.strengths.find((top) => velocity <= top);
}

/** Address of what a pad sounds like at a strength; where it answers with one sound at a time, of which. */
export function soundOf(play, velocity, turn = 0, grade = '') {
    return `${play.url}?velocity=${renderedAt(play, velocity)}${play.turns > 1 ? `&turn=${turn}` : ''}${grade ? `&grade=${encodeURIComponent(grade)}` : ''}`;
}

function nextTurn(play) {
    const before = turns.get(play.id);
    let turn = before === undefined ? 0 : (before + 1) % play.turns;
    if (play.chance) {
        turn = Math.floor(Math.random() * play.turns);
    } else if (play.fresh && before !== undefined && play.turns > 1) {
        turn = (before + 1 + Math.floor(Math.random() * (play.turns - 1))) % play.turns;
    }
    turns.set(play.id, turn);

    return turn;
}

/** While pads choose, what is told of each: its place, and what holds it; null while they sound. */
let chooser = null;

/** @param on {press(place, hold), release(hold)}, or null: pads sound again */
export function letPadsChoose(on) {
    chooser = on;
}

/** The sound of a strike and what it ends, by PHP's rules. */
function struckPad(play, velocity, at, grade = '') {
    const own = `pad ${play.id}`;
    const group = play.group ? [`group ${play.group}`] : [];

    return strike({
        url: soundOf(play, velocity, play.turns > 1 ? nextTurn(play) : 0, grade),
        gain: (velocity / renderedAt(play, velocity)) ** play.power,
        says: [own, ...group, ...play.silences.map((id) => `hush ${id}`)],
        ends: { [own]: play.voices, [`hush ${play.id}`]: 1, ...Object.fromEntries(group.map((name) => [name, 1])) },
        at,
    });
}

function struckNote(keys, url, pitch, velocity, at) {
    const own = `${keys.part} ${pitch}`;

    return strike({
        url: soundOf({ ...keys, url }, velocity, keys.turns > 1 ? nextTurn(keys) : 0), gain: (velocity / renderedAt(keys, velocity)) ** keys.power, says: [keys.part, own], ends: { [keys.part]: keys.single ? 1 : keys.voices, [own]: 1 }, at,
    });
}

/** Lets all voices of a strike go, each as it wants; what plays to its end goes on. */
async function letVoicesGo(sounding, later = 0) {
    for (const { voice, behaves } of sounding) {
        if (behaves.held) {
            release(await voice, { seconds: behaves.releaseMs / 1000, bend: behaves.bend, later });
        }
    }
}

/** Place in ticks of the loop at a moment, to be recorded; null while none plays. */
function ticksAt(moment) {
    return player.playing && player.what === 'loop' && player.loop ? player.ticks(heardAt(moment)) : null;
}

/**
 * Strikes a pad and what sounds along with it.
 *
 * @param hold   names what holds it, so that letGo can end it
 * @param moment timeStamp of what struck it
 * @param roll   {at, ticks, length} of one of many strikes: by the audio clock, in ticks of the loop, and how long it lasts in seconds
 */
export async function strikePad(id, velocity, hold = null, moment = performance.now(), roll = null, step = null) {
    const play = step ? JSON.parse(step.dataset.play) : playOf(id);
    const grade = step?.dataset.grade ?? '';
    if (!play) {
        return;
    }
    const at = roll?.at ?? 0;
    const sounding = [{ voice: struckPad(play, velocity, at, grade), behaves: play }];
    for (const other of play.along) {
        const voice = other.note === undefined ? struckPad(other, velocity, at) : struckNote(other, other.url, other.note, velocity, at);
        sounding.push({ voice, behaves: other });
    }
    struck(id, step ?? document.getElementById(`pad-${id}`), velocity, moment, sounding, hold, roll, grade, step);
}

/** Plays a note of the part that is open, like a pad. */
export async function strikeNote(pitch, velocity, hold = null, moment = performance.now(), roll = null) {
    const { keys } = page();
    if (!keys || pitch < keys.low || pitch > keys.high) {
        return;
    }
    const sounding = [{ voice: struckNote(keys, noteUrl(keys, pitch), pitch, velocity, roll?.at ?? 0), behaves: keys }];
    if (hold === null) {
        light(document.querySelector(`.pad[data-note="${pitch}"]`), velocity);
        letVoicesGo(sounding, 0.25);
    } else {
        struck(pitch, document.querySelector(`.pad[data-note="${pitch}"]`), velocity, moment, sounding, hold, roll);
    }
}

export function noteUrl(keys, pitch) {
    return `${keys.sound}/${pitch}/${keys.key}`;
}

function struck(source, element, velocity, moment, sounding, hold, roll, grade = '', step = null) {
    light(element, velocity);
    sounding[0].voice.then((voice) => {
        // How long after it was struck it was given to the audio clock.
        document.dispatchEvent(new CustomEvent('pestle:struck', { detail: { source, velocity, lateMs: performance.now() - moment, at: voice.started } }));
    });
    if (roll) {
        recorder.strike(source, velocity, roll.ticks, false, roll.lengthTicks, grade);
        letVoicesGo(sounding, roll.at + roll.seconds - audio().currentTime);

        return;
    }
    const note = recorder.strike(source, velocity, ticksAt(moment), hold !== null, 240, grade);
    if (hold !== null) {
        held.set(hold, { source, velocity, note, sounding, step });
    }
}

/** Strikes what a place of the dock holds; while erase is on, what it plays is taken out as long as it is held. */
export function strikePlace(element, velocity, hold, moment) {
    if (chooser && element?.dataset.number !== undefined && hold !== null) {
        chooser.press(Number(element.dataset.number), hold);
    } else if (recorder.erasing && player.playing && hold !== null && element && !('grade' in element.dataset)) {
        const source = element.dataset.pad ?? (element.dataset.note ? Number(element.dataset.note) : null);
        if (source !== null) {
            element.dataset.erasing = '';
            held.set(hold, { source, erases: ticksAt(moment), element, sounding: [] });
        }
    } else if (element?.dataset.grade !== undefined) {
        strikePad(element.dataset.of, Number(element.dataset.velocity || velocity), hold, moment, null, element);
    } else if (element?.dataset.pad) {
        strikePad(element.dataset.pad, velocity, hold, moment);
    } else if (element?.dataset.note) {
        strikeNote(Number(element.dataset.note), velocity, hold, moment);
    }
}

export function letGo(hold) {
    chooser?.release(hold);
    const strikeHeld = held.get(hold);
    if (!strikeHeld) {
        return;
    }
    held.delete(hold);
    if ('erases' in strikeHeld) {
        delete strikeHeld.element.dataset.erasing;
        recorder.erase(strikeHeld.source, strikeHeld.erases, ticksAt(performance.now()));

        return;
    }
    recorder.letGo(strikeHeld.note, player.ticks(heardAt()));
    letVoicesGo(strikeHeld.sounding);
}

/** The strength with which what is held goes on, by pressure or the pointer's height: what a roll strikes with. */
export function press(hold, velocity) {
    const strikeHeld = held.get(hold);
    if (strikeHeld) {
        strikeHeld.velocity = Math.max(1, Math.min(127, Math.round(velocity)));
    }
}

/** All that is held now. */
export function allHeld() {
    return [...held.values()].filter((strikeHeld) => !('erases' in strikeHeld));
}

function light(pad, velocity) {
    if (!pad) {
        return;
    }
    pad.dataset.lit = '';
    const glow = pad.querySelector('.glow');
    glow.style.height = `${velocity / 1.27}%`;
    setTimeout(() => {
        delete pad.dataset.lit;
        glow.style.height = '0';
    }, 140);
}
