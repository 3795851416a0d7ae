#!/usr/bin/env node
// Before anything else is loaded, so that call sites in the demo name the source and not the bundle.
process.setSourceMapsEnabled(true);
// Whoever reads the output may stop reading.
process.stdout.on('error', (error) => {
  if ((error as NodeJS.ErrnoException).code !== 'EPIPE') throw error;
  process.exit();
});
const { run } = await import('./run.ts');
process.exitCode = await run(process.argv.slice(2));

export {};
