import type { Size } from '@june-haze/core';
import { useCallback, useMemo, useRef, useState } from 'react';
import type { Lying } from './geometry.ts';

/** The pane that a picture lies in, measured; in halves where two lie beside each other. */
export function usePane(size: Size, aspect: number, halves: boolean) {
  const [whole, setWhole] = useState({ width: 0, height: 0 });
  const observer = useRef<ResizeObserver>(undefined);
  const ref = useCallback((box: HTMLDivElement | null) => {
    observer.current?.disconnect();
    if (!box) return;
    observer.current = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      setWhole((before) => (before.width === width && before.height === height ? before : { width, height }));
    });
    observer.current.observe(box);
  }, []);
  const lying = useMemo(
    (): Lying => ({
      picture: size,
      aspect,
      pane: halves ? { width: Math.floor(whole.width / 2), height: whole.height } : whole,
    }),
    [size, aspect, whole, halves],
  );
  return { ref, whole, lying };
}
