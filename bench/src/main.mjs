import { benchDoubles } from './doubles.mjs';
import { benchRecording } from './recording.mjs';
import { benchValues } from './values.mjs';

console.log(
  'ratios of Ekkon to something else measured in the same run; below 1 is faster or smaller\n',
);
console.log(`${'what / against'.padEnd(58)}  ratio   aim        detail`);
benchRecording();
benchDoubles();
benchValues();
