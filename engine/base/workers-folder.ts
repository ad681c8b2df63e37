/** Where the built workers are, unless the environment says otherwise. */
export const usualWorkersFolder = '.build/engine';
