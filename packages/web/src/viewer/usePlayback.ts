import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { Shot } from '@june-haze/contract';

export interface Playback {
  frame: number;
  playing: boolean;
  /** Frames drawn per second, measured over the last ones, while playing. */
  measured: number | undefined;
  /** Frames that did not come in time since playing began. */
  dropped: number;
  /** Frames that were drawn since the page came up. */
  seen: ReadonlySet<number>;
  /** Frames that are held as they are now, to be played at once. */
  held: ReadonlySet<number>;
  setHeld(frames: ReadonlySet<number>): void;
  setFrame(frame: number): void;
  toggle(): void;
  drawn(frame: number): void;
}

/** The frame looked at, and playing: the next frame is asked for when the last one is drawn and its time has come. */
export function usePlayback(shot: Shot): Playback {
  const [frame, setFrame] = useState(shot.firstFrame);
  const [playing, setPlaying] = useState(false);
  const [seen, setSeen] = useState<ReadonlySet<number>>(new Set());
  const [held, setHeld] = useState<ReadonlySet<number>>(new Set());
  const [measured, setMeasured] = useState<number>();
  const [dropped, setDropped] = useState(0);
  /** When the next frame is to be seen, by the clock: what came late does not move those after it. */
  const due = useRef<number>(undefined);
  const times = useRef<number[]>([]);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const { firstFrame, lastFrame, rate } = shot;
  const shown = Math.min(Math.max(frame, firstFrame), lastFrame);

  const toggle = useCallback(() => {
    times.current = [];
    due.current = undefined;
    setMeasured(undefined);
    setDropped(0);
    setPlaying(!playing);
    if (!playing) setFrame((f) => (f >= lastFrame ? firstFrame : f + 1));
  }, [playing, firstFrame, lastFrame]);

  const drawn = useCallback(
    (done: number) => {
      setSeen((s) => (s.has(done) ? s : new Set(s).add(done)));
      if (!playing) return;
      const now = performance.now();
      times.current = [...times.current.slice(-24), now];
      const span = now - times.current[0]!;
      if (times.current.length > 2) setMeasured(((times.current.length - 1) * 1000) / span);
      clearTimeout(timer.current);
      const each = 1000 / rate;
      const next = (due.current ?? now) + each;
      const late = Math.floor((now - next) / each);
      if (late > 0) setDropped((d) => d + late);
      due.current = next + Math.max(0, late) * each;
      timer.current = setTimeout(
        () => setFrame(done >= lastFrame ? firstFrame : done + 1),
        Math.max(0, due.current - now),
      );
    },
    [playing, firstFrame, lastFrame, rate],
  );

  useEffect(() => {
    if (!playing) clearTimeout(timer.current);
    return () => clearTimeout(timer.current);
  }, [playing]);

  return useMemo(
    () => ({
      frame: shown,
      playing,
      measured: playing ? measured : undefined,
      dropped,
      seen,
      held,
      setHeld,
      setFrame,
      toggle,
      drawn,
    }),
    [shown, playing, measured, dropped, seen, held, toggle, drawn],
  );
}
