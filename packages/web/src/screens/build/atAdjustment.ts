import { createContext } from 'react';

/** An adjustment of a row, by its place. */
export interface AtAdjustment {
  readonly entry: string;
  readonly index: number;
}

/** Hears which adjustment a person works on: comparisons by key are of it. */
export const AdjustmentContext = createContext<(at: AtAdjustment) => void>(() => undefined);
