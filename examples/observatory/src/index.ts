export type * from './devices.ts';
export { type Fault, faults } from './faults.ts';
export { type NightResult, NightRun, type Target } from './night-run.ts';
export { type SimulationOptions, simulateDevices } from './simulated.ts';
export { stageNight } from './staged-night.ts';
export { targets } from './targets.ts';
