import type { LedgerDocument } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useCallback, useEffect, useRef, useState } from 'react';
import { useShotChange } from '../../api/shots.ts';

/** How long a change rests before it becomes a revision: a run of key presses is one change. */
const restMilliseconds = 350;

interface Pending {
  document: LedgerDocument;
  words: string;
}

export interface LedgerEditing {
  /** What the picture shows: the draft while something moves, else the revision in force. */
  document: LedgerDocument;
  /** Shown at once, not yet kept. */
  draft(document: LedgerDocument): void;
  /** Shown at once and kept as a revision when it has rested. Changes made meanwhile follow each other in order. */
  save(document: LedgerDocument, words: string): void;
  step(direction: 'undo' | 'redo'): void;
  rebuild(by: string, sourceId: string): void;
}

/** Editing of a shot's ledger: one save under way at a time, each on top of the revision before it. */
export function useLedger(shot: Shot): LedgerEditing {
  const { mutateAsync } = useShotChange();
  const { id } = shot;
  const { revision, document: saved } = shot.ledger;
  const [draft, setDraft] = useState<LedgerDocument>();
  const base = useRef(revision);
  const pending = useRef<Pending>(undefined);
  const busy = useRef(false);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);

  useEffect(() => {
    if (!busy.current) base.current = revision;
  }, [revision]);

  const flush = useCallback(async () => {
    if (busy.current) return;
    busy.current = true;
    try {
      while (pending.current) {
        const { document, words } = pending.current;
        pending.current = undefined;
        const next = await mutateAsync({
          path: `/shots/${id}/ledger`,
          method: 'PUT',
          body: { base: base.current, document, summary: words },
        });
        base.current = next.ledger.revision;
      }
      setDraft(undefined);
    } catch {
      // The sentence was shown where the request was made; what is in force is loaded again.
      pending.current = undefined;
      setDraft(undefined);
    } finally {
      busy.current = false;
    }
  }, [id, mutateAsync]);

  const save = useCallback(
    (document: LedgerDocument, words: string) => {
      setDraft(document);
      pending.current = { document, words };
      clearTimeout(timer.current);
      timer.current = setTimeout(() => void flush(), restMilliseconds);
    },
    [flush],
  );

  // Leaving the screen loses nothing.
  useEffect(
    () => () => {
      clearTimeout(timer.current);
      if (pending.current) void flush();
    },
    [flush],
  );

  // What is still resting is kept first, so that a step back goes back from it.
  const ask = async (path: string) => {
    clearTimeout(timer.current);
    await flush();
    if (busy.current) return;
    setDraft(undefined);
    const next = await mutateAsync({
      path: `/shots/${id}/ledger/${path}`,
      method: 'POST',
      body: { base: base.current },
    }).catch(() => undefined); // its sentence was shown
    if (next) base.current = next.ledger.revision;
  };
  return {
    document: draft ?? saved,
    draft: setDraft,
    save,
    step: (direction) => void ask(direction),
    rebuild: (by, sourceId) => void ask(`rebuild?by=${by}&source=${sourceId}`),
  };
}
