import { createContext } from 'react';
import type { Subject } from '@june-haze/core';

/** What was clicked at: red, green, blue and alpha as they are (premultiplied, in the working space; of data the numbers themselves), and the place in pixels of the full picture. */
export interface Picked {
  readonly values: readonly [number, number, number, number];
  readonly place: readonly [x: number, y: number];
}

/** Whose numbers are picked: what comes to an adjustment, a pass as it is, or the total. */
export type PickFrom = Extract<Subject, { readonly kind: 'incoming' | 'pass' | 'total' }>;

/** Takes what is where the person clicks next; undefined when they leave it. */
export type PickInPicture = (from: PickFrom) => Promise<Picked | undefined>;

export const PickContext = createContext<PickInPicture>(() => Promise.resolve(undefined));

/** Straight colour of what was picked; undefined where nothing is. */
export function straightOf({ values: [r, g, b, a] }: Picked): [number, number, number] | undefined {
  return a > 0 ? [r / a, g / a, b / a] : undefined;
}
