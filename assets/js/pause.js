/** Resolves after so many milliseconds. */
export const pause = (ms) => new Promise((resolve) => { setTimeout(resolve, ms); });
