/** Stands for a framework's module if nothing says that it is absent. */
export const defineDevice = () => {
  throw new Error('this is no framework');
};
