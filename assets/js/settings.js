// Settings of tools belong to who works with them, not to the beat: they stay over changes, undo and other pages.

const settings = new Map();

function remember({ target }) {
    if (target.dataset?.setting) {
        settings.set(target.dataset.setting, target.type === 'checkbox' ? target.checked : target.value);
    }
}

document.addEventListener('input', remember, true);
document.addEventListener('change', remember, true);

/** Puts what was set into a page that is about to be shown. */
export function keepSettings(page) {
    for (const field of page.querySelectorAll('[data-setting]')) {
        const value = settings.get(field.dataset.setting);
        if (value === undefined) {
            continue;
        }
        if (field.type === 'checkbox') {
            field.checked = value;
        } else if (field.type === 'radio') {
            field.checked = field.value === value;
        } else if (field.tagName !== 'SELECT') {
            field.setAttribute('value', value);
            page.getElementById(`${field.id}-value`)?.replaceChildren(value);
        } else if ([...field.options].some((option) => option.value === value)) {
            field.value = value;
        }
    }
}
