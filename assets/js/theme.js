// Day or night, as chosen before; loaded first, so that the page does not flash.
const stored = localStorage.getItem('pestle-theme');
document.documentElement.dataset.theme = stored ?? (matchMedia('(prefers-color-scheme: dark)').matches ? 'night' : 'day');
