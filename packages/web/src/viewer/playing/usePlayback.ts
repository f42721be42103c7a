import { useCallback, useEffect, useMemo, useRef, useState, type RefObject } from 'react';
import type { Shot } from '@june-haze/contract';
import { Player, type Played } from './player.ts';

export interface Playback {
  /** The frame looked at; while playing, the one that it began from. */
  frame: number;
  playing: boolean;
  /** Frames that were drawn since the page came up. */
  seen: ReadonlySet<number>;
  /** Frames that are held as they are now, to be played at once. */
  held: ReadonlySet<number>;
  setHeld(frames: ReadonlySet<number>): void;
  setFrame(frame: number): void;
  toggle(): void;
  /** A frame is on the screen. */
  drawn(frame: number): void;
  /** Hears of each frame that is played, past React. Returns how to stop listening. */
  listen(listener: (played: Played) => void): () => void;
}

/** The frame looked at, and playing, which runs past React: `show` puts a frame on the screen. */
export function usePlayback(shot: Shot, show: RefObject<(frame: number) => void>): Playback {
  const [frame, setFrame] = useState(shot.firstFrame);
  const [playing, setPlaying] = useState(false);
  const [seen, setSeen] = useState<ReadonlySet<number>>(new Set());
  const [held, setHeld] = useState<ReadonlySet<number>>(new Set());
  const listeners = useRef(new Set<(played: Played) => void>());
  const player = useRef<Player>(undefined);
  const { firstFrame, lastFrame, rate } = shot;
  const shown = Math.min(Math.max(frame, firstFrame), lastFrame);

  const stop = useCallback(() => {
    const stopped = player.current;
    if (!stopped) return;
    stopped.end();
    player.current = undefined;
    setFrame(stopped.frame);
    setPlaying(false);
  }, []);
  useEffect(() => stop, [stop, firstFrame, lastFrame, rate]);

  const toggle = useCallback(() => {
    if (player.current) return stop();
    player.current = new Player(
      shown,
      { first: firstFrame, last: lastFrame, rate },
      (next) => show.current(next),
      (played) => listeners.current.forEach((l) => l(played)),
    );
    setPlaying(true);
    player.current.begin();
  }, [stop, shown, firstFrame, lastFrame, rate, show]);

  const counted = useRef(seen);
  const drawn = useCallback((done: number) => {
    if (!counted.current.has(done)) setSeen((counted.current = new Set(counted.current).add(done)));
    player.current?.drawn(done);
  }, []);
  const choose = useCallback(
    (next: number) => {
      stop();
      setFrame(next);
    },
    [stop],
  );
  const listen = useCallback((listener: (played: Played) => void) => {
    listeners.current.add(listener);
    return () => void listeners.current.delete(listener);
  }, []);

  return useMemo(
    () => ({ frame: shown, playing, seen, held, setHeld, setFrame: choose, toggle, drawn, listen }),
    [shown, playing, seen, held, choose, toggle, drawn, listen],
  );
}
