import { benchBlame } from './blame.mjs';
import { benchDoubles } from './doubles.mjs';
import { benchFailing } from './failing.mjs';
import { benchFiles } from './files.mjs';
import { benchImport } from './importing.mjs';
import { benchJudging } from './judging.mjs';
import { benchModules } from './modules.mjs';
import { benchObjects } from './objects.mjs';
import { benchOrder } from './order.mjs';
import { benchPage } from './page.mjs';
import { benchRecording } from './recording.mjs';
import { benchSince } from './since.mjs';
import { benchValues } from './values.mjs';
import { benchWaits } from './waits.mjs';
import { benchWeighing } from './weighing.mjs';

const parts = {
  recording: benchRecording,
  doubles: benchDoubles,
  values: benchValues,
  objects: benchObjects,
  order: benchOrder,
  judging: benchJudging,
  failing: benchFailing,
  waits: benchWaits,
  weighing: benchWeighing,
  modules: benchModules,
  files: benchFiles,
  page: benchPage,
  import: benchImport,
};
const [wanted] = process.argv.slice(2);

if (wanted === 'blame') {
  await benchBlame();
} else if (wanted === 'since') {
  await benchSince();
} else if (wanted !== undefined && !Object.hasOwn(parts, wanted)) {
  console.error(
    `bench: there is no part ${wanted}; these are: ${Object.keys(parts).join(', ')}, blame, since`,
  );
  process.exitCode = 2;
} else {
  console.log(
    'ratios of Ekkon to something else measured in the same run; below 1 is faster or smaller\n',
  );
  console.log(`${'what / against'.padEnd(58)}  ratio   aim        detail`);
  for (const [name, part] of Object.entries(parts))
    if (wanted === undefined || wanted === name) await part();
}
