/** Stands in for a library that adds style elements by script (vite.config.ts); nothing is added. */
export const styleSingleton = () => () => null;
export const stylesheetSingleton = () => ({ add: () => undefined, remove: () => undefined });
export const styleHookSingleton = () => () => undefined;
