import { oddFrames, type OddFrame } from '@june-haze/core';
import { useCallback, useEffect, useMemo, useRef, useState, type RefObject } from 'react';
import type { Shot } from '@june-haze/contract';
import type { OnHeld } from '../engine/PictureEngine.ts';
import { Player, type Played, type PlayingWay } from './player.ts';
import { usePlayingSettings, type PlayingSettings } from './playingSettings.ts';

export interface Playback {
  /** The frame looked at; while playing, the one that it began from. */
  readonly frame: number;
  readonly playing: boolean;
  /** Frames that were drawn since the page came up. */
  readonly seen: ReadonlySet<number>;
  /** Frames that are held as they are now, to be played at once. */
  readonly held: ReadonlySet<number>;
  /** Of those, the ones that are unlike their neighbours. */
  readonly odd: readonly OddFrame[];
  readonly setHeld: OnHeld;
  /** What is played: between marks that a person set, or all of the shot. */
  readonly first: number;
  readonly last: number;
  readonly way: PlayingWay;
  readonly threshold: number;
  change(settings: Partial<PlayingSettings>): void;
  setFrame(frame: number): void;
  toggle(): void;
  /** A frame is on the screen. */
  drawn(frame: number): void;
  /** Hears of each frame that is played, past React. Returns how to stop listening. */
  listen(listener: (played: Played) => void): () => void;
}

type PlayedShot = Pick<Shot, 'id' | 'firstFrame' | 'lastFrame' | 'rate'>;

/** The frame looked at, and playing, which runs past React: `show` puts a frame on the screen. */
export function usePlayback(shot: PlayedShot, show: RefObject<(frame: number) => void>): Playback {
  const [frame, setFrame] = useState(shot.firstFrame);
  const [playing, setPlaying] = useState(false);
  const [seen, setSeen] = useState<ReadonlySet<number>>(new Set());
  const [{ held, prints }, setHeldNow] = useState(nothingHeld);
  const setHeld: OnHeld = useCallback((frames, of) => setHeldNow({ held: frames, prints: of }), []);
  const listeners = useRef(new Set<(played: Played) => void>());
  const player = useRef<Player>(undefined);
  const { firstFrame, lastFrame, rate } = shot;
  const [settings, change] = usePlayingSettings(shot.id);
  const { way, threshold } = settings;
  const within = (f: number) => Math.min(Math.max(f, firstFrame), lastFrame);
  const shown = within(frame);
  const first = within(settings.first ?? firstFrame);
  const last = Math.max(first, within(settings.last ?? lastFrame));
  const odd = useMemo(() => oddFrames(prints, threshold), [prints, threshold]);

  const stop = useCallback(() => {
    const stopped = player.current;
    if (!stopped) return;
    stopped.end();
    player.current = undefined;
    setFrame(stopped.frame);
    setPlaying(false);
  }, []);
  useEffect(() => stop, [stop, first, last, rate, way]);

  const toggle = useCallback(() => {
    if (player.current) return stop();
    player.current = new Player(
      shown,
      { first, last, rate, way },
      (next) => show.current(next),
      (played) => listeners.current.forEach((l) => l(played)),
      stop,
    );
    setPlaying(true);
    player.current.begin();
  }, [stop, shown, first, last, rate, way, show]);

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
    () => ({
      frame: shown,
      playing,
      seen,
      held,
      odd,
      setHeld,
      first,
      last,
      way,
      threshold,
      change,
      setFrame: choose,
      toggle,
      drawn,
      listen,
    }),
    [shown, playing, seen, held, odd, setHeld, first, last, way, threshold, change, choose, toggle, drawn, listen],
  );
}

const nothingHeld: { held: ReadonlySet<number>; prints: Parameters<OnHeld>[1] } = {
  held: new Set(),
  prints: new Map(),
};
