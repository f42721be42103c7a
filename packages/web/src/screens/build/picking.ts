import { createContext } from 'react';
import type { Entry } from '@june-haze/core';

/** Straight red, green and blue in the working space. */
export type Picked = readonly [number, number, number];

/** Takes a colour of an entry's own picture from where the person clicks next; undefined when they leave it. */
export type Pick = (entry: Entry) => Promise<Picked | undefined>;

export const PickContext = createContext<Pick>(() => Promise.resolve(undefined));
