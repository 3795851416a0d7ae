import { createReducer } from '@reduxjs/toolkit';
import { addMinutes } from 'date-fns';
import dayjs from 'dayjs';
import { createElement } from 'react';

export const later = (date) => addMinutes(date, 5);
export const parsed = (text) => dayjs(text);
export const element = (name) => createElement(name);
export const firstState = () => createReducer({ open: false }, () => {}).getInitialState();
