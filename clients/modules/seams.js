import { seams } from 'ekkon/vite';

/** The plugin as the tests use it: packages of all kinds, and a module that only a framework has. */
export const withSeams = (...more) =>
  seams({
    of: ['date-fns', 'dayjs', 'react', 'immer', ...more],
    through: ['@reduxjs/toolkit'],
    absent: { '#night': ['defineDevice'] },
  });
