// Bringing files in: dropped anywhere or picked, sent in parts, listened to by PHP, put where they were dropped.

import { arrive, arrived, draw, leave } from './arrivals.js';
import { change, undo } from './changes.js';
import { audio, RATE } from './audio/context.js';
import { untilBeat } from './audio/loop-places.js';
import { audition } from './audio/pads.js';
import { player } from './audio/player.js';
import { fillPad } from './dock.js';
import { filesIn, isMany, pickedFiles, soundsOf, takeMany } from './folders.js';
import { goTo, page } from './page.js';
import { notice } from './notice.js';
import { takeMidi } from './ready.js';
import { ask, sendFile } from './uploads.js';
import { pause } from './pause.js';

const HEARD_EVERY_MS = 1500;

/** Sends a file and waits until it has become a sample; null when it did not. */
async function bringIn(file) {
    const arrival = arrive(file.name, 'waiting');
    try {
        const id = await sendFile(file, (part) => {
            arrival.part = 0.9 * part;
            arrival.text = `${Math.round(arrival.part * 100)} %`;
            draw();

            return !arrival.cancelled;
        });
        if (id === null) {
            return null;
        }
        arrival.text = 'listening';
        draw();
        const sample = await arrived(id);
        leave(arrival);

        return sample;
    } catch (problem) {
        arrival.failed = true;
        arrival.text = problem.message.replace(`${file.name}: `, '');
        if (page()?.workspace !== 'gather') {
            notice(problem.message, { bad: true });
        }

        return null;
    } finally {
        draw();
    }
}

/** Has Pestle make a sample of what is there: of what the beat plays, or of a stretch of another sample. */
export async function make(how, fields) {
    const arrival = arrive('A new sample', 'rendering', 0.5);
    try {
        const { id } = await ask(`/uploads/${how}`, { method: 'POST', body: JSON.stringify({ ...fields, beat: page().beat }), headers: { 'Content-Type': 'application/json' } });
        const sample = await arrived(id);
        leave(arrival);
        await goTo(`/beats/${page().beat}/${page().workspace}?sample=${sample.hash}`);
        notice(`${sample.name} is in the library.`);
    } catch (problem) {
        Object.assign(arrival, { failed: true, text: problem.message });
        draw();
        notice(problem.message, { bad: true });
    }
}

/** What can be meant by several files on one pad, with what the line that reports it calls it. */
const READINGS = { free: 'On free pads', replace: 'Replace from here', stack: 'Stack on this pad', strength: 'Answer by strength', turn: 'Answer in turn' };

/** What was taken for likeliest, in the line that reports it. */
const LIKELIEST = { free: 'on free pads', stack: 'one strike by several microphones: trimmed together and stacked', strength: 'one sound struck softly and hard: answers by strength', turn: 'one sound struck several times: answers in turn' };

/** How several samples belong together, as it is heard: {how, start, end, roots}. */
function together(samples) {
    return ask('/uploads/together', { method: 'POST', body: JSON.stringify({ samples: samples.map(({ hash }) => hash) }), headers: { 'Content-Type': 'application/json' } });
}

/** Several sounds on pads from one on, the likeliest way; the line that reports it offers the other readings. */
export async function land(pad, samples, how = null, belong = null) {
    belong ??= await together(samples);
    const chosen = how ?? belong.how;
    const trim = chosen === 'stack' && belong.start !== null;
    const sounds = samples.map(({ hash, name, frames, role, peakDb }) => ({ sample: hash, name, frames, role, peakDb, ...(trim ? { start: Math.min(belong.start, frames - 1), end: Math.min(belong.end, frames) } : {}) }));
    const made = await change({ type: 'land-sounds', pad, how: chosen, sounds });
    if (made) {
        const others = Object.keys(READINGS).filter((other) => other !== chosen);
        const actions = Object.fromEntries(others.map((other) => [READINGS[other], async () => { await undo(); await land(pad, samples, other, belong); }]));
        notice(`${samples.length} sounds: ${how === null ? LIKELIEST[chosen] : READINGS[chosen].toLowerCase()}.`, { actions: { ...actions, ...onKeys(samples, belong, true) }, seconds: 20 });
    }
}

/** Recorded notes as changes name them, and how many have none that was heard or read in their names. */
function recordedNotes(samples, { roots }) {
    const sounds = samples.map(({ hash, name, frames, peakDb }, i) => ({ sample: hash, name, frames, peakDb, rootCents: roots[i] })).filter((sound) => sound.rootCents !== null);

    return { sounds, silent: samples.length - sounds.length };
}

/** Offers to play several notes as one instrument; nothing where they are none. */
function onKeys(samples, belong, landed = false) {
    const { sounds } = recordedNotes(samples, belong);
    if (new Set(sounds.map(({ rootCents }) => Math.round(rootCents / 100))).size < 2 || sounds.length < samples.length) {
        return {};
    }

    return {
        'Play them on keys': async () => {
            if (landed) {
                await undo();
            }
            const { nextPart, section } = page();
            if (await change({ type: 'add-part', id: nextPart, name: samples[0].name.replace(/[\s_-]*[A-Ga-g][#b♯♭]?-?\d.*$/u, '').trim() || 'Keys', sounds, section })) {
                await goTo(`/beats/${page().beat}/kit?part=${nextPart}`);
                notice(`${sounds.length} recorded notes are one instrument.`);
            }
        },
    };
}

/** Brings recorded notes into an instrument, each at its own place. */
async function takeNotes(files, part) {
    const came = await comeIn(files);
    if (came.length === 0) {
        return;
    }
    const { sounds, silent } = recordedNotes(came, await together(came));
    if (sounds.length === 0) {
        notice('No note was heard in these sounds, nor stands one in their names. They are in the library.', { bad: true });
    } else if (await change({ type: 'set-zones', part, sounds })) {
        notice(`${sounds.length} recorded ${sounds.length === 1 ? 'note' : 'notes'} in the instrument, each over the keys around it.${silent > 0 ? ` ${silent} have no note and are in the library only.` : ''}`);
    }
}

/** Brings files in, one after another; gives the samples. */
export async function comeIn(files) {
    const came = [];
    for (const file of files) {
        const sample = await bringIn(file);
        if (sample) {
            came.push(sample);
        }
    }

    return came;
}

/** Brings files in; onto a pad, or from it on. Gives the samples. */
export async function take(files, pad = null) {
    const wasEmpty = document.querySelectorAll('.pad[data-pad]').length === 0;
    const came = await comeIn(files);
    if (pad && came.length === 1) {
        await fillPad(pad, came[0]);
    } else if (pad && came.length > 1) {
        await land(pad, came);

        return came;
    }
    if (came.length === 0) {
        return came;
    }
    const url = new URL(location.href);
    url.searchParams.set('sample', came[0].hash);
    if (!pad) {
        await goTo(page().workspace === 'gather' || page().workspace === 'chop' ? url.pathname + url.search : `/beats/${page().beat}/gather?sample=${came[0].hash}`);
    }
    const words = came.length === 1 ? `${came[0].name} is in the library${pad ? ' and on the pad' : ''}.` : `${came.length} sounds are in the library${pad ? ' and on the pads' : ''}.`;
    const loop = came.find((sample) => sample.loop);
    if (loop && wasEmpty) {
        offerTempo(loop, words);
    } else {
        notice(words, came.length > 1 ? { actions: onKeys(came, await together(came)), seconds: 15 } : {});
    }
    const song = came.find((sample) => !sample.heard);
    if (!loop && wasEmpty && song) {
        offerWhenHeard(song);
    }

    return came;
}

/** The first loop or song in an empty beat may set its tempo and key. */
function offerTempo(loop, words) {
    const bpm = Math.round(loop.bpm * 100) / 100;
    const key = loop.key ? ` and ${loop.key}` : '';
    const set = () => change({ type: 'set-tempo', bpm, key: loop.key ?? '' });
    notice(`${words} It sounds like a loop at ${bpm} BPM${key ? `, ${loop.key}` : ''}.`, { actions: { [`Set the beat to ${bpm} BPM${key}`]: set, 'Leave it': () => {} }, seconds: 15 });
}

/** A long recording is listened to after it has come in; the offer comes then, when the beat is still empty. */
async function offerWhenHeard(song) {
    const { beat } = page();
    for (let state = { sample: song }; page()?.beat === beat; state = await ask(`/uploads/${song.upload}`)) {
        if (state.sample?.heard) {
            if (state.sample.loop && document.querySelectorAll('.pad[data-pad]').length === 0) {
                offerTempo(state.sample, `${song.name} was listened to.`);
            }

            return;
        }
        await pause(HEARD_EVERY_MS);
    }
}

/** When, by the audio clock, the next beat of what plays falls; at once when nothing loops. */
function nextBeat() {
    const loops = player.playing && player.what !== 'song' && player.loop;

    return loops ? audio().currentTime + untilBeat(player.loop, player.ticks(audio().currentTime), page().click) / RATE / player.course.rate : 0;
}

/** Hears a sample; a loop at the beat's tempo and key if that is wished, from the next beat on while the beat plays. */
async function listen(button) {
    const fitted = button.dataset.bpm && document.getElementById('listen-fitted')?.checked;
    button.dataset.busy = '';
    try {
        const at = fitted ? nextBeat() : 0;
        await audition(`/samples/${button.dataset.audition}/${fitted ? `fitted?beat=${page().beat}` : 'sound'}`, 0, undefined, false, at);
    } catch (problem) {
        notice(problem.message, { bad: true });
    } finally {
        delete button.dataset.busy;
    }
}

/** Up and down go through the samples that are shown, and hear them. */
document.addEventListener('keydown', (event) => {
    const button = event.target.closest?.('[data-audition]');
    if (button && (event.key === 'ArrowDown' || event.key === 'ArrowUp')) {
        event.preventDefault();
        const all = [...document.querySelectorAll('#samples tr:not([hidden]) [data-audition]')];
        const next = all[all.indexOf(button) + (event.key === 'ArrowDown' ? 1 : -1)];
        next?.focus();
        next?.click();
    }
});

function dropTarget(event) {
    const pad = event.target.closest?.('.pad');

    return pad ? pad.dataset.pad ?? pad.dataset.free : null;
}

document.addEventListener('dragover', (event) => {
    if (page() && event.dataTransfer.types.includes('Files')) {
        event.preventDefault();
        document.body.dataset.dragging = '';
        for (const pad of document.querySelectorAll('.pad[data-over]')) {
            delete pad.dataset.over;
        }
        const pad = event.target.closest?.('.pad');
        if (pad) {
            pad.dataset.over = '';
        }
    }
});
for (const name of ['dragleave', 'drop', 'dragend']) {
    document.addEventListener(name, (event) => {
        if (name !== 'dragleave' || event.relatedTarget === null) {
            delete document.body.dataset.dragging;
            document.querySelectorAll('.pad[data-over]').forEach((pad) => { delete pad.dataset.over; });
        }
    });
}
document.addEventListener('drop', async (event) => {
    if (page() && event.dataTransfer.files.length > 0) {
        event.preventDefault();
        const instrument = event.target.closest?.('[data-drop-notes]');
        const pad = dropTarget(event);
        const dropped = await filesIn(event.dataTransfer);
        const midi = dropped.find(({ file, tags }) => tags.length === 0 && /\.midi?$/i.test(file.name));
        const files = dropped.map(({ file }) => file);
        if (midi) {
            takeMidi(midi.file);
        } else if (instrument) {
            takeNotes(soundsOf(dropped).map(({ file }) => file), instrument.dataset.dropNotes);
        } else if (isMany(dropped, pad)) {
            takeMany(dropped);
        } else {
            take(files, pad);
        }
    }
});

document.addEventListener('click', (event) => {
    const pick = event.target.closest('[data-pick]');
    if (pick) {
        document.getElementById(pick.dataset.pick).click();
    }
    const instrument = event.target.closest('[data-pick-notes]');
    if (instrument) {
        const input = Object.assign(document.createElement('input'), { type: 'file', multiple: true, accept: 'audio/*' });
        input.addEventListener('change', () => { takeNotes([...input.files], instrument.dataset.pickNotes); });
        input.click();
    }
    const button = event.target.closest('[data-audition]');
    if (button) {
        listen(button);
    }
    if (event.target.closest('[data-resample-now]')) {
        make('resampled', Object.fromEntries([...event.target.closest('[data-resample]').querySelectorAll('select')].map((s) => [s.name, s.value])));
    }
});
document.addEventListener('change', (event) => {
    if (event.target.id === 'files' || event.target.id === 'folder') {
        const picked = pickedFiles(event.target);
        if (isMany(picked)) {
            takeMany(picked);
        } else {
            take(picked.map(({ file }) => file));
        }
        event.target.value = '';
    }
});
