// Files that are dragged straight out of the page: onto the desktop, or into other software.

const TYPES = { wav: 'audio/wav', flac: 'audio/flac', mp3: 'audio/mpeg', ogg: 'audio/ogg', mid: 'audio/midi' };

document.addEventListener('dragstart', (event) => {
    const link = event.target.closest?.('a[data-out]');
    if (!link) {
        return;
    }
    const name = link.dataset.out.replace(/[/\\:]/g, '-');
    const type = TYPES[name.split('.').pop()] ?? 'application/octet-stream';
    event.dataTransfer.effectAllowed = 'copy';
    event.dataTransfer.setData('DownloadURL', `${type}:${name}:${link.href}`);
    event.dataTransfer.setData('text/uri-list', link.href);
    event.dataTransfer.setData('text/plain', link.href);
});
