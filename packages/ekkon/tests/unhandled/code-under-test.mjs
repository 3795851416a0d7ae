// Run as `node code-under-test.mjs <how the mount is made> <what its caller does>`: prints what the platform
// says of rejections, and in which order things happen.
import { call, computes, deferred, openLedger, plan, rejects } from 'ekkon';

const [made, used] = process.argv.slice(2);
const told = [];
const tell = (what) => told.push(what);
process.on('unhandledRejection', (reason) => tell(`unhandled ${reason.message}`));
process.on('rejectionHandled', () => tell('handled late'));
process.on('exit', () => console.log(JSON.stringify(told)));

const wind = new Error('wind');
const turn = () => new Promise((resolve) => setTimeout(resolve, 5));

class Mount {
  async slewTo() {
    await null;
    throw wind;
  }
}

/** The mount with its slews, as it is and as Ekkon records it, and what the test does once it moves. */
function mountOf(way) {
  const mount = new Mount();
  const ledger = openLedger({ rules: 'loose' });
  const standIn = ledger.standIn('mount', Mount);
  const withoutRecording = { mount, moving: () => {} };
  switch (way) {
    case 'real':
      return withoutRecording;
    case 'observed':
      ledger.observe(mount, 'slewTo');
      return withoutRecording;
    case 'computed':
      plan(
        call(standIn.slewTo),
        computes(() => new Mount().slewTo()),
      );
      break;
    case 'planned':
      plan(call(standIn.slewTo), rejects(wind));
      break;
    case 'deferred': {
      const slewed = deferred();
      plan(call(standIn.slewTo), slewed);
      return { mount: standIn, moving: () => slewed.reject(wind) };
    }
  }
  return { mount: standIn, moving: () => {} };
}

const uses = {
  async ignored(mount) {
    void mount.slewTo();
  },
  async caught(mount) {
    mount.slewTo().catch(() => tell('caught'));
  },
  async awaited(mount) {
    try {
      await mount.slewTo();
    } catch {
      tell('caught');
    }
  },
  async 'caught too late'(mount) {
    const slewing = mount.slewTo();
    await turn();
    slewing.catch(() => tell('caught'));
  },
  async 'caught in the next turn of promises'(mount) {
    const slewing = mount.slewTo();
    await null;
    await null;
    slewing.catch(() => tell('caught'));
  },
  async 'passed on'(mount) {
    void Promise.all([mount.slewTo(), mount.slewTo()]);
  },
  async 'caught on one branch'(mount) {
    const slewing = mount.slewTo();
    slewing.then(() => {});
    slewing.catch(() => tell('caught'));
  },
  async 'given on by an async function'(mount) {
    const outer = async () => mount.slewTo();
    void outer();
  },
};

const { mount, moving } = mountOf(made);
void uses[used](mount);
moving();
await turn();
await turn();
