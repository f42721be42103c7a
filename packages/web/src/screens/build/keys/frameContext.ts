import { createContext } from 'react';

/** The frame that rows are edited at, and the shot's. */
export const FrameContext = createContext<{ readonly frame: number; readonly first: number; readonly last: number }>({
  frame: 0,
  first: 0,
  last: 0,
});
