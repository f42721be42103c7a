import { findMatte, isKeyed, valuesAt, withKey, type Keyed, type Matte } from '@june-haze/core';
import { createContext, useContext, useEffect, useRef } from 'react';
import type { PictureShape } from '../../../viewer/ShapeHandles.tsx';
import { FrameContext } from '../keys/frameContext.ts';

/** Lays a shape on the picture, or takes it away. */
export const ShapeContext = createContext<(shape: PictureShape | undefined) => void>(() => undefined);

type Change = Readonly<Record<string, unknown>>;

/** While a matte that is a shape is opened, it lies on the picture and is moved there; what is keyed is keyed at the frame that is seen. */
export function useShape(
  name: string,
  stored: Matte,
  onDraft: (change: Change) => void,
  onSave: (change: Change, words: string) => void,
): void {
  const setShape = useContext(ShapeContext);
  const { frame } = useContext(FrameContext);
  const latest = useRef({ onDraft, onSave, stored });
  useEffect(() => {
    latest.current = { onDraft, onSave, stored };
  });
  const shown = JSON.stringify(stored);
  useEffect(() => {
    const own = JSON.parse(shown) as Matte;
    const definition = findMatte(own.kind);
    if (!definition?.inPicture) return undefined;
    const keyed = (change: Change) => keyedAs(latest.current.stored, change, frame);
    setShape({
      title: `matte ${name}`,
      values: valuesAt(definition.parameters, own, frame),
      held: definition.inPicture,
      onDraft: (change) => latest.current.onDraft(keyed(change)),
      onSave: (change, words) => latest.current.onSave(keyed(change), words),
    });
    return () => setShape(undefined);
  }, [name, shown, frame, setShape]);
}

/** A change with keys where the stored numbers have some. */
function keyedAs(stored: Matte, change: Change, frame: number): Change {
  const was = stored as unknown as Record<string, unknown>;
  const one = (before: unknown, now: unknown): unknown => {
    if (Array.isArray(now)) return now.map((v, i) => one(Array.isArray(before) ? before[i] : undefined, v));
    return typeof now === 'number' && isKeyed(before) ? withKey(before as Keyed, frame, now) : now;
  };
  return Object.fromEntries(Object.entries(change).map(([key, now]) => [key, one(was[key], now)]));
}
