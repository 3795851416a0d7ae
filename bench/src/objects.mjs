import { openLedger } from 'ekkon';
import { compareTimes, printRow } from './measure.mjs';

const times = 2_000;

/** Recording arguments of servers, frameworks and DOMs, against recording two numbers. */
export async function benchObjects() {
  for (const [what, value] of Object.entries(await realObjects())) {
    const result = compareTimes(
      () => recording(value),
      () => recording(83.6, 22),
    );
    const [ours, other] = [result.ours, result.other].map((ms) => (ms / times) * 1e3);
    printRow(
      `record ${what} / two numbers`,
      result.ratio,
      '≤ 20',
      `${ours.toFixed(2)} / ${other.toFixed(2)} µs each`,
    );
  }
}

function recording(...values) {
  const store = openLedger({ callSites: 0 }).callable('store');
  for (let at = 0; at < times; at++) store(...values);
}

/** Objects made by real packages, by name. */
async function realObjects() {
  const { default: express } = await import('express');
  const { default: fastify } = await import('fastify');
  const { JSDOM } = await import('jsdom');
  const made = {};
  const app = express();
  app.get('/frames/:id', (request, response) => {
    made['a request of express'] = request;
    response.end();
  });
  const listening = app.listen(0);
  await new Promise((listens) => listening.once('listening', listens));
  const other = fastify();
  other.get('/frames/:id', async (request) => {
    made['a request of fastify'] = request;
    return {};
  });
  const bases = [`http://127.0.0.1:${listening.address().port}`, await other.listen({ port: 0 })];
  for (const base of bases) await (await fetch(`${base}/frames/7`)).text();
  listening.closeAllConnections();
  listening.close();
  await other.close();

  const { window } = new JSDOM('<main></main>', { url: 'http://archive.example/' });
  const { document, navigator, HTMLIFrameElement } = window;
  Object.assign(globalThis, { window, document, navigator, HTMLIFrameElement });
  globalThis.IS_REACT_ACT_ENVIRONMENT = true;
  const { act, createElement } = await import('react');
  const { createRoot } = await import('react-dom/client');
  const page = document.querySelector('main');
  const onClick = (event) => {
    made['a click event of react'] = event;
  };
  await act(async () =>
    createRoot(page).render(createElement('button', { type: 'button', onClick }, 'open')),
  );
  await act(async () => page.querySelector('button').click());
  made['an element with react’s internals on it'] = page.querySelector('button');
  made['an event of a DOM'] = new window.MouseEvent('click', { clientX: 4 });
  return made;
}
