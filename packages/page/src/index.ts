export { Button } from './controls.tsx';
export { PageTheme } from './page-theme.tsx';
export { Report } from './report.tsx';
