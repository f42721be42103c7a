import { matchLineSchema, type MatchProgressTold } from '@june-haze/contract';
import type { MatchResult } from '@june-haze/core';
import { useCallback, useEffect, useRef, useState } from 'react';
import { send } from '../../api/request.ts';

export interface FinderState {
  readonly busy: boolean;
  readonly progress: MatchProgressTold | undefined;
  readonly result: MatchResult | undefined;
  readonly problem: string | undefined;
  /** So long a search has taken, in seconds. */
  readonly seconds: number | undefined;
}

const idle: FinderState = {
  busy: false,
  progress: undefined,
  result: undefined,
  problem: undefined,
  seconds: undefined,
};

/** Why a search was given up: what it was about is another now. */
const overtaken = 'overtaken';
const changedMeanwhile = 'What is compared changed meanwhile, its files or its choice: find again.';

/** A search for what made the reference: begun, followed line by line, stopped. What was found is forgotten when `about` changes. */
export function useFinder(shotId: string, about: string) {
  const [state, setState] = useState<FinderState & { about: string }>({ ...idle, about });
  const running = useRef<AbortController>(undefined);
  const now = useRef(about);
  useEffect(() => {
    now.current = about;
    return () => running.current?.abort(overtaken);
  }, [shotId, about]);

  const find = useCallback(async (): Promise<MatchResult | undefined> => {
    running.current?.abort();
    const own = new AbortController();
    running.current = own;
    const began = performance.now();
    const set = (change: Partial<FinderState>) =>
      running.current === own &&
      setState((s) => ({ ...s, ...change, about, seconds: (performance.now() - began) / 1000 }));
    set({ ...idle, busy: true });
    try {
      const response = await send(`/shots/${shotId}/match/find`, 'POST', {}, own.signal);
      let found: MatchResult | undefined;
      for await (const text of linesOf(response)) {
        const line = matchLineSchema.parse(JSON.parse(text));
        if ('error' in line) throw new Error(line.error);
        if ('result' in line) found = line.result as MatchResult;
        set('result' in line ? { result: found } : { progress: line.progress });
      }
      set({ busy: false });
      return found;
    } catch (error) {
      if (own.signal.reason === overtaken) setState({ ...idle, problem: changedMeanwhile, about: now.current });
      else set({ busy: false, ...(own.signal.aborted ? {} : { problem: (error as Error).message }) });
      return undefined;
    }
  }, [shotId, about]);
  const stop = useCallback(() => {
    running.current?.abort();
    setState((s) => ({ ...s, busy: false }));
  }, []);
  return { ...(state.about === about ? state : idle), find, stop };
}

/** The lines of an answer as they come. */
async function* linesOf(response: Response): AsyncGenerator<string> {
  const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
  let rest = '';
  for (;;) {
    const { done, value } = await reader.read();
    if (done) break;
    const lines = (rest + value).split('\n');
    rest = lines.pop()!;
    yield* lines;
  }
  if (rest) yield rest;
}
