import './changes.js';
import './controls.js';
import './dock.js';
import './roll.js';
import './midi.js';
import './elements/beside.js';
import './elements/controller.js';
import './transport.js';
import './keyboard.js';
import './drawn.js';
import './gather.js';
import './chop.js';
import './grid.js';
import './fit.js';
import './slice.js';
import './library.js';
import './many.js';
import './arrange.js';
import './microphone.js';
import './song.js';
import './writing.js';
import './elements/moves.js';
import './elements/fold.js';
import './elements/track.js';
import './clips.js';
import './line-of-time.js';
import './elements/notes.js';
import './mix.js';
import './mix-rows.js';
import './measure.js';
import './compare.js';
import './masking.js';
import './elements/spectrum.js';
import './deliver.js';
import './carried.js';
import './beats.js';
import './elements/lanes.js';
import './elements/wave.js';
import './elements/apart.js';
import './elements/live.js';
import './elements/eq.js';
import './elements/trace.js';
import './elements/handles.js';
import './kit.js';
import './find.js';
import './feel.js';
import './ready.js';
import './phrase.js';
import './sound.js';
import './drums.js';
import './elements/notes-seen.js';
import './elements/partials.js';
import './elements/jobs.js';
import { announcePage, app } from './page.js';
import { notice, said } from './notice.js';

document.addEventListener('htmx:configRequest', ({ detail }) => {
    detail.headers['X-Pestle-Token'] = app().dataset.token;
});
document.addEventListener('htmx:responseError', ({ detail }) => {
    if (detail.target === app()) {
        location.href = detail.pathInfo.requestPath;
    } else {
        notice(said(detail.xhr).error, { bad: true });
    }
});
document.addEventListener('htmx:sendError', () => notice('Pestle cannot be reached. Is it still running?', { bad: true }));
announcePage();
