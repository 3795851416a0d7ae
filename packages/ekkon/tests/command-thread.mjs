import { workerData } from 'node:worker_threads';

// Runs the built command once for each message, and keeps what it has loaded.
const { port, cli, signal } = workerData;
const printed = { out: '', err: '' };
for (const [stream, name] of [
  [process.stdout, 'out'],
  [process.stderr, 'err'],
]) {
  stream.setMaxListeners(0);
  stream.write = (text) => {
    printed[name] += text;
    return true;
  };
}

let runs = 0;
port.on('message', async (args) => {
  Object.assign(printed, { out: '', err: '' });
  process.argv.splice(2, Infinity, ...args);
  process.exitCode = 0;
  try {
    await import(`${cli}?run=${++runs}`);
  } catch (error) {
    printed.err += error.stack;
    process.exitCode = null;
  }
  port.postMessage({ code: process.exitCode, ...printed });
  Atomics.store(signal, 0, runs);
  Atomics.notify(signal, 0);
});
