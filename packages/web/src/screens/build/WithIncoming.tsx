import type { LedgerDocument } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import type { ReactNode } from 'react';
import type { AtAdjustment } from './atAdjustment.ts';
import { IncomingContext, useIncoming } from './useIncoming.ts';

/** Gives the plots inside what comes to an adjustment. */
export function WithIncoming({
  shot,
  document,
  at,
  space,
  children,
}: {
  shot: Shot;
  document: LedgerDocument;
  at: AtAdjustment;
  space: string;
  children: ReactNode;
}) {
  return <IncomingContext value={useIncoming(shot, document, at, space)}>{children}</IncomingContext>;
}
