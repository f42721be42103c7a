import { useCallback, useEffect, useRef, useState } from 'react';
import type { Shot } from '@june-haze/contract';

export interface Playback {
  frame: number;
  playing: boolean;
  /** Frames drawn per second, measured over the last ones, while playing. */
  measured: number | undefined;
  /** Frames that were drawn since the page came up: their planes may still be held. */
  seen: ReadonlySet<number>;
  setFrame(frame: number): void;
  toggle(): void;
  drawn(frame: number): void;
}

/** The frame looked at, and playing: the next frame is asked for when the last one is drawn and its time has come. */
export function usePlayback(shot: Shot): Playback {
  const [frame, setFrame] = useState(shot.firstFrame);
  const [playing, setPlaying] = useState(false);
  const [seen, setSeen] = useState<ReadonlySet<number>>(new Set());
  const [measured, setMeasured] = useState<number>();
  const times = useRef<number[]>([]);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const { firstFrame, lastFrame, rate } = shot;
  const shown = Math.min(Math.max(frame, firstFrame), lastFrame);

  const toggle = useCallback(() => {
    times.current = [];
    setMeasured(undefined);
    setPlaying(!playing);
    if (!playing) setFrame((f) => (f >= lastFrame ? firstFrame : f + 1));
  }, [playing, firstFrame, lastFrame]);

  const drawn = useCallback(
    (done: number) => {
      setSeen((s) => (s.has(done) ? s : new Set(s).add(done)));
      if (!playing) return;
      const now = performance.now();
      times.current = [...times.current.slice(-12), now];
      const span = now - times.current[0]!;
      if (times.current.length > 2) setMeasured(((times.current.length - 1) * 1000) / span);
      clearTimeout(timer.current);
      const since = times.current.length > 1 ? now - times.current.at(-2)! : 0;
      timer.current = setTimeout(
        () => setFrame(done >= lastFrame ? firstFrame : done + 1),
        Math.max(0, 1000 / rate - since),
      );
    },
    [playing, firstFrame, lastFrame, rate],
  );

  useEffect(() => {
    if (!playing) clearTimeout(timer.current);
    return () => clearTimeout(timer.current);
  }, [playing]);

  return { frame: shown, playing, measured: playing ? measured : undefined, seen, setFrame, toggle, drawn };
}
