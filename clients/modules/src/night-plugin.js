import { defineDevice } from '#night';

defineDevice('camera');
export const name = 'camera';
