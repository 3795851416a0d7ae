#!/usr/bin/env node
// Before any other import, so call sites in the demo name the source and not the bundle.
process.setSourceMapsEnabled(true);
// The reader of the output may stop reading.
process.stdout.on('error', (error) => {
  if ((error as NodeJS.ErrnoException).code !== 'EPIPE') throw error;
  process.exit();
});
const { run } = await import('./run.ts');
process.exitCode = await run(process.argv.slice(2));

export {};
