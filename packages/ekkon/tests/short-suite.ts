import { expect } from 'vitest';

/** A test in a few lines, for a place that has nothing but the library; it tells what it saw through `tell`. */
export const short = (library: string, tell: string) => `
  import(${JSON.stringify(library)}).then(async (ekkon) => {
    const { call, check, fulfils, once, openLedger, partial, plan, reach } = ekkon;
    const ledger = openLedger({ name: 'elsewhere' });
    const { dome } = ledger.standIns();
    plan(call(dome.open), fulfils('open'));
    const waited = reach(once(call(dome.close, [partial({ type: 'calm' })])), { within: 1000 });
    const opened = await dome.open(new URL('http://archive.example/'));
    dome.close(new Event('calm'));
    await waited;
    check(once(call(dome.open, [new URL('http://archive.example/')])));
    let said = '';
    try { check(once(call(dome.open, [7]))); } catch (error) { said = error.message.split('\\n')[0]; }
    ledger.close();
    ${tell}([opened, said]);
  }, (error) => ${tell}([String(error)]));
`;

/** What it tells. */
export const expected = ['open', expect.stringMatching(/^#1 dome\.open.*: \[0\] expected 7, received new URL\("http:\/\/archive\.example\/"\)$/)];
