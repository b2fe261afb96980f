import './changes.js';
import './controls.js';
import './dock.js';
import './roll.js';
import './midi.js';
import './transport.js';
import './keyboard.js';
import './gather.js';
import './chop.js';
import './grid.js';
import './fit.js';
import './slice.js';
import './library.js';
import './arrange.js';
import './microphone.js';
import './song.js';
import './elements/notes.js';
import './mix.js';
import './mix-rows.js';
import './measure.js';
import './compare.js';
import './masking.js';
import './elements/spectrum.js';
import './deliver.js';
import './beats.js';
import './elements/lanes.js';
import './elements/wave.js';
import './elements/eq.js';
import './elements/trace.js';
import './elements/handles.js';
import './kit.js';
import './feel.js';
import './ready.js';
import './phrase.js';
import { announcePage, app, failure, goTo, page } from './page.js';
import { notice } from './notice.js';

document.addEventListener('htmx:configRequest', (event) => {
    event.detail.headers['X-Pestle-Token'] = app().dataset.token;
});

// Links within a beat are opened in place.
document.addEventListener('click', (event) => {
    const link = event.target.closest('#app a[href^="/beats/"]');
    if (link && page() && !link.hasAttribute('download') && !event.ctrlKey && !event.metaKey && !event.shiftKey) {
        event.preventDefault();
        goTo(link.getAttribute('href'));
    }
});

// Forms of the list of beats.
document.addEventListener('submit', async (event) => {
    if (event.target.method === 'post') {
        event.preventDefault();
        const response = await fetch(event.target.action, {
            method: 'POST', body: new URLSearchParams(new FormData(event.target)), headers: { 'X-Pestle-Token': app().dataset.token },
        });
        if (response.ok) {
            location.href = response.url;
        } else {
            notice((await failure(response)).error, { bad: true });
        }
    }
});
addEventListener('popstate', () => location.reload());
announcePage();
