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
  /** What the picture shows: the draft while something moves, else the revision in force. */
  document: LedgerDocument;
  /** The same without what is only being moved: rows show it when it has come to rest, so that a picture need not wait for them. */
  settled: LedgerDocument;
  /** Shown at once, not yet kept. */
  draft(document: LedgerDocument): void;
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
  const [moved, setMoved] = useState<LedgerDocument>();
  const base = useRef(revision);
  const pending = useRef<Pending>(undefined);
  const waiting = useRef(0);
  const last = useRef(Promise.resolve());
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);

  // What is being changed stays a change of what it began from: had another changed the ledger meanwhile, the server refuses it.
  useEffect(() => {
    if (!waiting.current && draft === undefined && moved === undefined) base.current = revision;
  }, [revision, draft, moved]);

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
        setMoved(undefined);
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
      setMoved(undefined);
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

  // What is still resting is kept first, so that a step back goes back from it.
  const afterPending = (path: string) =>
    inTurn(async () => {
      await keepPending();
      await ask(`ledger/${path}`, 'POST');
    });
  return {
    document: moved ?? draft ?? saved,
    settled: draft ?? saved,
    draft: setMoved,
    save,
    step: afterPending,
    rebuild: (by, sourceId) => afterPending(`rebuild?by=${by}&source=${sourceId}`),
  };
}
