import { start } from './start.tsx';

const desk = document.getElementById('desk');
if (desk !== null) start(desk);
