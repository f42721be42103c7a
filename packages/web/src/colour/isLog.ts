import { findSpace } from '@june-haze/core';

/** Whether a declared space is one of the known log spaces, which files can go back in. */
export const isLog = (space: string | null): boolean => space !== null && findSpace(space)?.family === 'log';
