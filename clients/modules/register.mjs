import { registerSeams } from 'ekkon/seams';

registerSeams({
  of: ['date-fns', 'dayjs', 'react', 'immer'],
  absent: { '#night': ['defineDevice'] },
});
