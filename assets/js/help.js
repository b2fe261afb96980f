// The help of this screen, its keys first; the other screens stand behind.

import { page } from './page.js';

export function openHelp() {
    const dialog = document.getElementById('keys');
    const screens = dialog.querySelector('[data-screens]');
    const here = page()?.workspace ?? 'beats';
    for (const screen of screens.querySelectorAll('[data-screen]')) {
        screen.open = screen.dataset.screen === here;
    }
    screens.prepend(screens.querySelector(`[data-screen="${here}"]`), screens.querySelector('[data-everywhere]'));
    dialog.showModal();
    // Read from its top, wherever it was left.
    dialog.querySelector('h2').focus();
    dialog.scrollTop = 0;
}
