import './changes.js';
import './controls.js';
import './dock.js';
import './transport.js';
import './keyboard.js';
import './gather.js';
import './chop.js';
import './order.js';
import './mix.js';
import './deliver.js';
import './elements/lanes.js';
import './elements/wave.js';
import './elements/eq.js';
import { announcePage } from './page.js';

document.addEventListener('htmx:configRequest', (event) => {
    event.detail.headers['X-Pestle-Token'] = document.getElementById('app').dataset.token;
});
document.addEventListener('htmx:afterSettle', (event) => {
    if (event.target.id === 'app' || event.detail.target?.id === 'app') {
        announcePage();
    }
});
addEventListener('popstate', () => location.reload());
announcePage();
