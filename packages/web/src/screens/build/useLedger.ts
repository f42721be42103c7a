import type { LedgerDocument } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useCallback, useEffect, useRef, useState } from 'react';
import { newerShot, useShotChange } from '../../api/shots.ts';

/** How long a change rests before it becomes a revision: a run of key presses is one change. */
const restMilliseconds = 350;

interface Pending {
  document: LedgerDocument;
  words: string;
}

export interface LedgerEditing {
  /** What the page shows: what was changed last, else the revision in force. What is only being moved goes to the picture alone. */
  document: LedgerDocument;
  /** A change begins that is not kept yet: it stays a change of what is in force now. */
  begin(): void;
  /** Shown at once and kept as a revision when it has rested. Changes made meanwhile follow each other in order. */
  save(document: LedgerDocument, words: string): void;
  step(direction: 'undo' | 'redo'): void;
  rebuild(by: string, sourceId: string): void;
}

/** Editing of a shot's ledger: one request under way at a time, in the order they were asked for, each on top of the revision before it. */
export function useLedger(shot: Shot): LedgerEditing {
  const { mutateAsync } = useShotChange();
  const { id } = shot;
  // The answer to a request is here before the screen's own shot is.
  const [answer, setAnswer] = useState(shot);
  const { revision, document: saved } = newerShot(answer.id === id ? answer : undefined, shot).ledger;
  const [draft, setDraft] = useState<LedgerDocument>();
  const base = useRef(revision);
  const begun = useRef(false);
  const pending = useRef<Pending>(undefined);
  const waiting = useRef(0);
  const last = useRef(Promise.resolve());
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);

  // What is being changed stays a change of what it began from: had another changed the ledger meanwhile, the server refuses it.
  useEffect(() => {
    if (!waiting.current && draft === undefined && !begun.current) base.current = revision;
  }, [revision, draft]);

  const ask = useCallback(
    async (path: string, method: 'PUT' | 'POST', more: object = {}) => {
      const body = { base: base.current, ...more };
      const next = await mutateAsync({ path: `/shots/${id}/${path}`, method, body });
      base.current = next.ledger.revision;
      setAnswer(next);
    },
    [id, mutateAsync],
  );

  /** After what was asked for before. A sentence for what fails was shown where the request was made; what is in force is shown again. */
  const inTurn = useCallback((task: () => Promise<void>) => {
    waiting.current++;
    last.current = last.current
      .then(task)
      .catch(() => {
        pending.current = undefined;
        setDraft(undefined);
      })
      .finally(() => waiting.current--);
  }, []);

  const keepPending = useCallback(async () => {
    clearTimeout(timer.current);
    while (pending.current) {
      const { document, words } = pending.current;
      pending.current = undefined;
      await ask('ledger', 'PUT', { document, summary: words });
    }
    setDraft(undefined);
  }, [ask]);

  const save = useCallback(
    (document: LedgerDocument, words: string) => {
      begun.current = false;
      setDraft(document);
      pending.current = { document, words };
      clearTimeout(timer.current);
      timer.current = setTimeout(() => inTurn(keepPending), restMilliseconds);
    },
    [inTurn, keepPending],
  );

  // Leaving the screen loses nothing.
  useEffect(
    () => () => {
      clearTimeout(timer.current);
      if (pending.current) inTurn(keepPending);
    },
    [inTurn, keepPending],
  );

  const begin = useCallback(() => {
    begun.current = true;
  }, []);

  // What is still resting is kept first, so that a step back goes back from it.
  const afterPending = (path: string) =>
    inTurn(async () => {
      await keepPending();
      await ask(`ledger/${path}`, 'POST');
    });
  return {
    document: draft ?? saved,
    begin,
    save,
    step: afterPending,
    rebuild: (by, sourceId) => afterPending(`rebuild?by=${by}&source=${sourceId}`),
  };
}
