import { sideAtLevel, type LedgerSummary } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useCallback, useEffect, useMemo, useRef, type RefObject } from 'react';
import type { ChannelChoice, PictureRequest, PictureResult } from './messages.ts';
import { PictureEngine } from './PictureEngine.ts';
import { useRoom } from '../room/room.ts';
import { holdsMemory } from './pageMemory.ts';
import type { Plans } from './plans.ts';

/** What a picture shows, all that React knows of. */
export interface Shown {
  readonly shot: Shot;
  /** Undefined while it cannot be made yet. */
  readonly plans: Plans | undefined;
  readonly frame: number;
  readonly show: 'total' | 'difference';
  readonly channel: ChannelChoice;
  /** For the eye alone, in stops. */
  readonly exposure: number;
  /** Screen pixels per picture pixel. */
  readonly scale: number;
}

export interface Told {
  drawn(result: PictureResult | Error, frame: number): void;
  counted(summary: LedgerSummary): void;
}

/** What may move under the hand or with the clock, past React: nothing else of the page changes with it. */
export interface Moved {
  readonly plans?: Plans;
  readonly exposure?: number;
  readonly frame?: number;
}

export interface Picture {
  readonly engine: RefObject<PictureEngine | undefined>;
  /** The level that the picture is drawn at. */
  readonly level: number;
  /** Shows the picture with something moved; what React knows of follows when it comes to rest. */
  move(moved: Moved): void;
}

/** Keeps a canvas showing what it should. */
export function usePicture(canvas: RefObject<HTMLCanvasElement | null>, shown: Shown, told: Told): Picture {
  const { shot, plans, frame, show, channel, exposure, scale } = shown;
  const { workingSpace, viewing, colour, width, height } = shot;
  const engine = useRef<PictureEngine>(undefined);
  const report = useRef(told);
  useEffect(() => {
    report.current = told;
  });
  useEffect(() => {
    const made = new PictureEngine(canvas.current!);
    engine.current = made;
    const forget = holdsMemory(made);
    return () => {
      forget();
      made.dispose();
    };
  }, [canvas]);
  const { heldMegabytes } = useRoom();
  useEffect(() => {
    engine.current!.budget = heldMegabytes * 2 ** 20;
  }, [heldMegabytes]);

  const halvings = Math.log2(1 / Math.max(scale * window.devicePixelRatio, 1e-3));
  const level = Math.max(0, Math.floor(halvings));
  /** The level nearest to what is seen, for while the hand moves. */
  const nearest = Math.max(0, Math.round(halvings));
  const sourceFrames = useMemo(
    () => Object.fromEntries(shot.sources.filter((s) => s.still).map((s) => [s.id, s.firstFrame])),
    [shot.sources],
  );
  // By value: answers about a shot come often, and pixels seldom change.
  const stampList = shot.sources.map((s) => `${s.id} ${s.stamp}`).join();
  const stamps = useMemo(
    () => Object.fromEntries(stampList.split(',').map((s) => s.split(' ') as [string, string])),
    [stampList],
  );

  const request = useMemo((): PictureRequest | undefined => {
    const seen = { ...viewing, exposure: viewing.exposure + exposure };
    const rest = { workingSpace, viewing: seen, colour, channel, show, frame, sourceFrames, stamps };
    return plans && { plans, ...rest, size: { width, height }, ...atLevel(width, height, level) };
  }, [
    plans,
    workingSpace,
    viewing,
    exposure,
    colour,
    channel,
    show,
    frame,
    sourceFrames,
    stamps,
    width,
    height,
    level,
  ]);
  const latest = useRef({ request, viewing, nearest });
  useEffect(() => {
    latest.current = { request, viewing, nearest };
  });

  const ask = useCallback((asked: PictureRequest, moving: boolean) => {
    const { size } = asked;
    const { nearest: next } = latest.current;
    engine.current?.show({
      request: asked,
      moving,
      coarser: next > asked.level ? { ...asked, ...atLevel(size.width, size.height, next) } : undefined,
      done: (result) => report.current.drawn(result, asked.frame),
      counted: (summary) => report.current.counted(summary),
    });
  }, []);
  useEffect(() => {
    if (request) ask(request, false);
  }, [request, ask]);

  const move = useCallback(
    ({ exposure: stops, ...moved }: Moved) => {
      const now = latest.current;
      if (!now.request) return;
      const seen = stops === undefined ? {} : { viewing: { ...now.viewing, exposure: now.viewing.exposure + stops } };
      const asked = { ...now.request, ...moved, ...seen };
      ask(asked, moved.frame === undefined);
    },
    [ask],
  );
  return useMemo(() => ({ engine, level, move }), [level, move]);
}

const atLevel = (width: number, height: number, level: number) => ({
  level,
  width: sideAtLevel(width, level),
  height: sideAtLevel(height, level),
});
