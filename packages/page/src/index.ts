export { Button } from './controls.tsx';
export { Report } from './report.tsx';
