import { useEffect, useRef, type KeyboardEvent, type PointerEvent, type RefObject } from 'react';
import type { Window } from '@june-haze/core';
import { centreOf, lay, panned, regionBetween, toPicture, zoomAbout, type Lying, type View } from './geometry.ts';
import type { ProbeHandle } from './probing/ProbeLayer.tsx';

export interface PictureDrag {
  /** Its name, for people. */
  readonly what: string;
  /** By so many pixels of the picture since the drag began, right and down; `ended` when the hand lets go. */
  move(x: number, y: number, ended: boolean): void;
  /** Nothing is moved any more. */
  end(): void;
}

interface PointerOf {
  readonly box: RefObject<HTMLDivElement | null>;
  readonly view: View;
  readonly lying: Lying;
  readonly onView: (view: View) => void;
  readonly onRegion: (region: Window | null) => void;
  readonly probe: RefObject<ProbeHandle | null>;
  readonly drag: PictureDrag | undefined;
  /** Takes the click of a pick that is waited for; false where none is. */
  readonly takePick: (x: number, y: number) => boolean;
  readonly endPick: () => void;
}

interface Dragging {
  readonly view: View;
  readonly x: number;
  readonly y: number;
  readonly marks: boolean;
  moved: boolean;
}

/** Nearer than this the hand has not moved. */
const still = 3;
const arrows: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** What pointer, wheel and keys do in the picture. */
export function usePointer(of: PointerOf) {
  const { box, view, lying, onView, onRegion, probe, drag, takePick, endPick } = of;
  const dragging = useRef<Dragging>(undefined);
  const laid = lay(view, lying, window.devicePixelRatio);

  /** A point of the screen in its pane. */
  const inPane = (clientX: number, clientY: number): readonly [number, number] => {
    const area = box.current!.getBoundingClientRect();
    const x = clientX - area.left;
    // The right one of two halves has the same picture at the same place.
    return [x > lying.pane.width && area.width > lying.pane.width + 1 ? x - lying.pane.width : x, clientY - area.top];
  };
  const inPicture = (clientX: number, clientY: number) => toPicture(laid, ...inPane(clientX, clientY));

  const latest = useRef({ view, lying, inPane });
  useEffect(() => {
    latest.current = { view, lying, inPane };
  });
  useEffect(() => {
    const element = box.current!;
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      const now = latest.current;
      const { scale } = lay(now.view, now.lying);
      const next = zoomAbout(
        now.view,
        now.lying,
        scale * 1.0015 ** -event.deltaY,
        ...now.inPane(event.clientX, event.clientY),
      );
      // Several may come before the next rendering.
      latest.current = { ...now, view: next };
      onView(next);
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [box, onView]);

  const onPointerDown = (e: PointerEvent<HTMLDivElement>) => {
    const [px, py] = inPicture(e.clientX, e.clientY);
    if (takePick(Math.floor(px), Math.floor(py))) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    dragging.current = { view, x: e.clientX, y: e.clientY, marks: e.altKey || e.button === 2, moved: false };
  };
  const onPointerMove = (e: PointerEvent<HTMLDivElement>) => {
    const d = dragging.current;
    if (!d) {
      const [x, y] = inPicture(e.clientX, e.clientY);
      return probe.current?.at(Math.floor(x), Math.floor(y));
    }
    const [right, down] = [e.clientX - d.x, e.clientY - d.y];
    if (drag) return drag.move(right / laid.scaleX, down / laid.scale, false);
    if (!d.moved && Math.hypot(right, down) <= still) return;
    d.moved = true;
    if (d.marks) onRegion(regionBetween(inPicture(d.x, d.y), inPicture(e.clientX, e.clientY), lying.picture) ?? null);
    else onView(panned(d.view, lying, right, down));
  };
  const onPointerUp = (e: PointerEvent<HTMLDivElement>) => {
    const d = dragging.current;
    dragging.current = undefined;
    if (d && drag) drag.move((e.clientX - d.x) / laid.scaleX, (e.clientY - d.y) / laid.scale, true);
    else if (d?.marks && !d.moved) onRegion(null);
  };
  const onKeyDown = (e: KeyboardEvent<HTMLDivElement>) => {
    if (e.key === 'Escape') {
      drag?.end();
      endPick();
    }
    const arrow = arrows[e.key];
    if (!arrow || e.altKey) return;
    e.preventDefault();
    const [x, y] = arrow;
    if (e.shiftKey) {
      // The probe goes the arrow's way: a pixel, or ten with Ctrl.
      const far = e.ctrlKey || e.metaKey ? 10 : 1;
      const from = probe.current?.probed ?? middleOf(view, lying);
      const to = (at: number, by: number, side: number) => Math.min(side - 1, Math.max(0, at + by * far));
      probe.current?.at(to(from.x, x, lying.picture.width), to(from.y, y, lying.picture.height));
    } else if (drag) drag.move(x, y, true);
    // The view goes under the eye.
    else onView(panned(view, lying, -40 * x, -40 * y));
  };
  return { onPointerDown, onPointerMove, onPointerUp, onKeyDown, laid };
}

/** The pixel in the middle of what is seen. */
export function middleOf(view: View, lying: Lying): { x: number; y: number } {
  const [x, y] = centreOf(view, lying);
  const within = (v: number, side: number) => Math.floor(Math.min(side - 1, Math.max(0, v)));
  return { x: within(x, lying.picture.width), y: within(y, lying.picture.height) };
}
