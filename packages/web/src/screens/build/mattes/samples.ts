import { createContext, useContext, useEffect, useRef, useState } from 'react';
import type { LedgerDocument, Subject } from '@june-haze/core';
import type { SampleAnswer } from '../../../viewer/engine/messages.ts';

/** Samples a subject of a ledger (its numbers, or `shown` its codes) over the frame that is shown; undefined while there is no picture. */
export type TakeSamples = (
  subject: Subject,
  document: LedgerDocument,
  shown?: boolean,
) => Promise<SampleAnswer | undefined>;

/** Where small pictures and histograms come from, and who hears of a ledger that is being moved. */
export interface Sampling {
  readonly take: TakeSamples;
  /** Hears of drafts until the answer is called. */
  readonly listen: (listener: (moved: LedgerDocument) => void) => () => void;
  readonly frame: number;
}

export const SamplingContext = createContext<Sampling>({
  take: () => Promise.resolve(undefined),
  listen: () => () => undefined,
  frame: 0,
});

/** Until a first picture is there, it is asked again. */
const againMilliseconds = 700;

/** What a subject is sampled to, or why it cannot be. */
export interface Sampled {
  readonly sample?: SampleAnswer;
  readonly problem?: string;
}

/**
 * Samples of a subject, kept current with the ledger, the frame and, while something is dragged, with what is dragged (unless it is nothing
 * that this changes): one at a time, the newest wins.
 */
export function useSampled(subject: Subject | undefined, document: LedgerDocument, whileDragged = true): Sampled {
  const { take, listen, frame } = useContext(SamplingContext);
  const [sampled, setSampled] = useState<Sampled>({});
  const key = JSON.stringify(subject);
  const wanted = useRef<LedgerDocument>(undefined);
  const busy = useRef(false);
  useEffect(() => {
    const of = key === undefined ? undefined : (JSON.parse(key) as Subject);
    let gone = false;
    let again: ReturnType<typeof setTimeout> | undefined;
    const work = async () => {
      if (busy.current) return;
      busy.current = true;
      while (of && wanted.current && !gone) {
        const next = wanted.current;
        wanted.current = undefined;
        const answer: Sampled = await take(of, next).then(
          (sample) => (sample ? { sample } : {}),
          (error: unknown) => ({ problem: (error as Error).message }),
        );
        if (gone) break;
        if (answer.sample ?? answer.problem) setSampled(answer);
        else again = setTimeout(() => ask(next), againMilliseconds);
      }
      busy.current = false;
    };
    const ask = (of: LedgerDocument) => {
      clearTimeout(again);
      wanted.current = of;
      void work();
    };
    ask(document);
    const stopListening = whileDragged ? listen(ask) : undefined;
    return () => {
      gone = true;
      clearTimeout(again);
      stopListening?.();
      busy.current = false;
    };
  }, [key, document, frame, take, listen, whileDragged]);
  return sampled;
}
