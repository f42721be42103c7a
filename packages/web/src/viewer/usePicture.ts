import {
  sideAtLevel,
  type ColourKey,
  type Inspection,
  type LedgerSummary,
  type ScopesWanted,
  type Size,
  type WarningKind,
  type Window,
} from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useCallback, useEffect, useMemo, useRef, type RefObject } from 'react';
import { quickMilliseconds, roughLevels, slowMilliseconds } from './engine/coarser.ts';
import type { PictureRequest, PictureResult } from './engine/messages.ts';
import { PictureEngine } from './engine/PictureEngine.ts';
import { useReturn } from '../api/outage.ts';
import { useRoom } from '../room/room.ts';
import type { Plans } from './engine/plans.ts';
import type { Sight } from './sights.ts';
import { partAround } from './partAround.ts';
import { useSame } from './useSame.ts';

/** What a picture shows, all that React knows of. */
export interface Shown {
  readonly shot: Shot;
  /** The colours that it is made with. */
  readonly colour: ColourKey;
  /** Undefined while it cannot be made yet. */
  readonly sight: Sight | undefined;
  readonly size: Size;
  readonly frame: number;
  readonly show: 'total' | 'difference';
  readonly inspection: Inspection;
  readonly warn: readonly WarningKind[];
  readonly scopes: ScopesWanted | undefined;
  /** What shares and balance are counted of, where that is not what is shown. */
  readonly counts?: Plans | undefined;
  /** For the eye alone, in stops. */
  readonly exposure: number;
  /** Screen pixels per picture pixel. */
  readonly scale: number;
  /** The part of the picture that is seen, in its pixels. */
  readonly seen: Window;
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

/** While the hand moves, scopes count every so many rows. */
const rowsWhileMoving = 8;

/** Keeps a canvas showing what it should. */
export function usePicture(canvas: RefObject<HTMLCanvasElement | null>, shown: Shown, told: Told): Picture {
  const { shot, colour, sight, size, frame, show, inspection, warn, scopes, exposure, scale, counts, seen } = shown;
  const { workingSpace } = shot;
  const engine = useRef<PictureEngine>(undefined);
  const report = useRef(told);
  useEffect(() => {
    report.current = told;
  });
  useEffect(() => {
    const made = new PictureEngine(canvas.current!);
    engine.current = made;
    return () => made.dispose();
  }, [canvas]);
  const { heldMegabytes } = useRoom();
  useEffect(() => {
    engine.current!.pool.drawn.limit = heldMegabytes * 2 ** 20;
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
    () => ({
      ...Object.fromEntries(stampList.split(',').map((s) => s.split(' ') as [string, string])),
      ...sight?.stamps,
    }),
    [stampList, sight],
  );

  // What is counted over the picture needs all of it.
  const parted = !scopes && warn.length === 0;
  const part = useSame(parted ? partAround(seen, size, level) : undefined);

  const request = useMemo((): PictureRequest | undefined => {
    if (!sight) return undefined;
    const { plans, later, showing } = sight;
    return {
      plans,
      workingSpace,
      showing: exposed(showing, exposure),
      colour,
      inspection,
      warn,
      scopes,
      show,
      frame: frame + later,
      sourceFrames,
      stamps,
      size,
      ...atLevel(size.width, size.height, level),
      window: part,
    };
  }, [
    sight,
    workingSpace,
    exposure,
    colour,
    inspection,
    warn,
    scopes,
    show,
    frame,
    sourceFrames,
    stamps,
    size,
    level,
    part,
  ]);
  const latest = useRef({ request, sight, nearest, counts });
  useEffect(() => {
    latest.current = { request, sight, nearest, counts };
  });

  const failed = useRef(false);
  const ask = useCallback((asked: PictureRequest, moving: boolean) => {
    const { size: full } = asked;
    const { nearest: next, sight: of, counts: counted } = latest.current;
    const later = of?.later ?? 0;
    engine.current?.show({
      request: asked,
      moving,
      coarser: [next, ...Array.from({ length: roughLevels }, (_, i) => next + 1 + i)]
        .filter((of) => of > asked.level)
        .map((of) => ({
          request: { ...asked, ...atLevel(full.width, full.height, of), window: undefined },
          after: of === next ? quickMilliseconds : slowMilliseconds,
        })),
      counts: moving ? undefined : counted,
      done: (result) => {
        failed.current = result instanceof Error;
        report.current.drawn(result, asked.frame - later);
      },
      counted: (summary) => report.current.counted(summary),
    });
  }, []);
  useEffect(() => {
    if (request) ask(request, false);
  }, [request, ask]);
  // A picture that failed while the server or its database was away is asked for again when they are there.
  const askAgain = useCallback(() => {
    if (failed.current && latest.current.request) ask(latest.current.request, false);
  }, [ask]);
  useReturn(askAgain);

  const move = useCallback(
    ({ exposure: stops, frame: next, plans }: Moved) => {
      const { request: now, sight: of } = latest.current;
      if (!now || !of) return;
      const asked: PictureRequest = {
        ...now,
        ...(plans ? { plans } : {}),
        ...(next === undefined ? {} : { frame: next + of.later }),
        ...(stops === undefined ? {} : { showing: exposed(of.showing, stops) }),
        // The hand goes first: what is counted is exact when it rests.
        ...(now.scopes && next === undefined ? { scopes: { ...now.scopes, every: rowsWhileMoving } } : {}),
      };
      ask(asked, next === undefined);
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

/** A trim of the exposure, for the eye alone. */
const exposed = (showing: Sight['showing'], stops: number): Sight['showing'] =>
  stops === 0 ? showing : { ...showing, viewing: { ...showing.viewing, exposure: showing.viewing.exposure + stops } };
