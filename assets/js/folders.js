// Whole folders come in: their names become tags, several files go at once, and what they are is heard afterwards.

import { arrive, arrived, draw, leave } from './arrivals.js';
import { again, goTo, page } from './page.js';
import { notice } from './notice.js';
import { sendFile } from './uploads.js';

const SOUND = /\.(?:wave?|aif[fc]?|flac|mp3|og[ga])$/i;
/** As many files come in one after another and land where they were dropped; more are a folder of their own. */
const FEW = 16;
const AT_ONCE = 4;
const SHOWN_EVERY_MS = 1500;
const MOST_TAGS = 12;
const LONGEST_TAG = 30;

function tagsOf(folders) {
    const tags = folders.map((folder) => [...folder.replaceAll(/[\s,\p{C}]+/gu, ' ').trim().toLowerCase()].slice(0, LONGEST_TAG).join('').trim());

    return [...new Set(tags.filter(Boolean))].slice(-MOST_TAGS);
}

async function walk(entry, folders) {
    if (entry.isFile) {
        // What cannot be read comes as an empty file, and is refused by name.
        const file = await new Promise((resolve) => { entry.file(resolve, () => resolve(new File([], entry.name))); });

        return [{ file, tags: tagsOf(folders) }];
    }
    const found = [];
    const reader = entry.createReader();
    for (;;) {
        // A reader gives a hundred at a time, and none when it is through.
        const some = await new Promise((resolve, reject) => { reader.readEntries(resolve, reject); });
        if (some.length === 0) {
            return found;
        }
        for (const inner of some) {
            found.push(...await walk(inner, [...folders, entry.name]));
        }
    }
}

/** All files that were dropped, those in folders with the folders' names as tags: [{file, tags}]. */
export async function filesIn(dropped) {
    // After this turn the browser forgets what was dropped.
    const items = [...dropped.items].filter(({ kind }) => kind === 'file').map((item) => ({ entry: item.webkitGetAsEntry?.(), file: item.getAsFile() }));
    const plain = [...dropped.files].map((file) => ({ file, tags: [] }));
    if (!items.some(({ entry }) => entry?.isDirectory)) {
        return plain;
    }
    const all = [];
    for (const { entry, file } of items) {
        all.push(...entry ? await walk(entry, []) : [{ file, tags: [] }]);
    }

    return all;
}

/** Files of a field, in the same form. */
export function pickedFiles(field) {
    return [...field.files].map((file) => ({ file, tags: tagsOf((file.webkitRelativePath ?? '').split('/').slice(0, -1)) }));
}

export function soundsOf(files) {
    return files.filter(({ file }) => SOUND.test(file.name) && !file.name.startsWith('.'));
}

/** Whether they come as a folder does; plain files for a pad land there, however many. */
export function isMany(files, pad = null) {
    return (files.length > FEW && !pad) || files.some(({ tags }) => tags.length > 0);
}

const counted = (count, one, many) => `${count.toLocaleString('en')} ${count === 1 ? one : many}`;

/** Brings them in; what cannot be read is left out and told. */
export async function takeMany(files) {
    const sounds = soundsOf(files);
    if (sounds.length === 0) {
        notice('No sound is in there: WAV, AIFF, FLAC, MP3 and Ogg are.', { bad: true });

        return;
    }
    if (page().workspace !== 'gather') {
        await goTo(`/beats/${page().beat}/gather`);
    }
    const arrival = arrive(sounds[0].tags[0] ?? 'Your files', '');
    const refused = [];
    let came = 0;
    let there = 0;
    let shown = 0;
    const queue = sounds[Symbol.iterator]();
    const show = (last = false) => {
        arrival.part = (came + there + refused.length) / sounds.length;
        arrival.text = `${(came + there).toLocaleString('en')} of ${counted(sounds.length, 'sound', 'sounds')}`;
        draw();
        if (page()?.workspace === 'gather' && (last || Date.now() - shown > SHOWN_EVERY_MS)) {
            shown = Date.now();
            again();
        }
    };
    const work = async () => {
        for (const { file, tags } of queue) {
            if (arrival.cancelled) {
                return;
            }
            try {
                const id = await sendFile(file, () => !arrival.cancelled, '', tags);
                const sample = id && await arrived(id);
                came += sample && !sample.there ? 1 : 0;
                there += sample?.there ? 1 : 0;
            } catch (problem) {
                refused.push(problem.message);
            }
            show();
        }
    };
    show();
    await Promise.all(Array.from({ length: AT_ONCE }, work));
    leave(arrival);
    show(true);
    const words = [
        `${counted(came, 'sound is', 'sounds are')} new in the library`,
        there > 0 ? `${counted(there, 'was', 'were')} there already` : '',
        refused.length > 0 ? `${counted(refused.length, 'was', 'were')} refused (${refused.slice(0, 2).join(' ')})` : '',
        files.length > sounds.length ? `${counted(files.length - sounds.length, 'file', 'files')} of other kinds left out` : '',
        arrival.cancelled ? 'the rest was given up: bring the folder in again to go on' : '',
    ].filter(Boolean);
    notice(`${words.join('; ')}.`, { bad: refused.length > 0, seconds: 20 });
}
