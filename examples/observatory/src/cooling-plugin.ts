/** The framework that runs the devices puts this into every module by itself. */
declare const defineDevice: (name: string, watts: number) => void;

// It acts when it is imported.
defineDevice('camera cooling', 120);

export const coldest = -20;
