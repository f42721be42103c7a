import type { LedgerSummary } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import {
  useCallback,
  useEffect,
  useImperativeHandle,
  useLayoutEffect,
  useRef,
  useState,
  type ReactNode,
  type Ref,
} from 'react';
import { useCommand } from '../commands/registry.ts';
import { ViewerButtons } from './ViewerButtons.tsx';
import { ViewingExposure } from './ViewingExposure.tsx';
import { ProbePanel, type Probed } from './ProbePanel.tsx';
import type { ChannelChoice, PictureResult, ProbeAnswer } from './messages.ts';
import type { Plans } from './plans.ts';
import { usePicture, type Moved } from './usePicture.ts';

export interface ViewerProps {
  shot: Shot;
  /** Undefined while it cannot be made yet. */
  plans: Plans | undefined;
  frame: number;
  show?: 'total' | 'difference';
  title: string;
  onSummary?: (summary: LedgerSummary | undefined) => void;
  onDrawn?: (frame: number) => void;
  /** Frames that may be drawn ahead, the next first. */
  ahead?: readonly number[];
  onHeld?: (frames: ReadonlySet<number>) => void;
  extra?: ReactNode;
  handle?: Ref<ViewerHandle>;
  /** What a drag in the picture moves, in place of the view. */
  drag?: PictureDrag | undefined;
}

export interface PictureDrag {
  /** Its name, for people. */
  readonly what: string;
  /** By so many pixels of the picture since the drag began, right and down; `ended` when the hand lets go. */
  move(x: number, y: number, ended: boolean): void;
  /** Nothing is moved any more. */
  end(): void;
}

/** What others may do with the picture past React. */
export interface ViewerHandle {
  /** Shows it with something moved that is not kept yet. */
  move(moved: Moved): void;
  /** The numbers of other plans where the person clicks next; undefined when they leave it. */
  pick(plans: Plans): Promise<ProbeAnswer | undefined>;
}

interface Picking {
  readonly plans: Plans;
  take(answer: Promise<ProbeAnswer | undefined> | undefined): void;
}

interface Placement {
  /** Screen pixels per picture pixel; undefined fits the picture. */
  scale: number | undefined;
  x: number;
  y: number;
}

/** The picture: pan by dragging, zoom by the wheel, fit and 1:1, channels, a viewing-only exposure, and a probe. */
export function Viewer({
  shot,
  plans,
  frame,
  show = 'total',
  title,
  onSummary,
  onDrawn,
  ahead,
  onHeld,
  extra,
  handle,
  drag: carried,
}: ViewerProps) {
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [placement, setPlacement] = useState<Placement>({ scale: undefined, x: 0, y: 0 });
  const [channel, setChannel] = useState<ChannelChoice>('colour');
  const [exposure, setExposure] = useState(0);
  const [failure, setFailure] = useState<string>();
  const [drawn, setDrawn] = useState(false);
  const drawnIn = useRef<HTMLDivElement>(null);
  const [clipped, setClipped] = useState<number>();
  const [probed, setProbed] = useState<Probed>();

  useLayoutEffect(() => {
    const observer = new ResizeObserver(([entry]) =>
      setSize({ width: entry!.contentRect.width, height: entry!.contentRect.height }),
    );
    observer.observe(box.current!);
    return () => observer.disconnect();
  }, []);

  const fit = size.width ? Math.min((size.width - 32) / shot.width, (size.height - 32) / shot.height) : 1;
  const scale = placement.scale ?? fit;
  const origin =
    placement.scale === undefined
      ? { x: (size.width - shot.width * fit) / 2, y: (size.height - shot.height * fit) / 2 }
      : placement;
  const { engine, level, move } = usePicture(
    canvas,
    // Before its place is measured, nobody knows how large the picture is seen.
    { shot, plans: size.width ? plans : undefined, frame, show, channel, exposure, scale },
    {
      drawn: (result: PictureResult | Error, of) => {
        if (result instanceof Error) setFailure(result.message);
        else {
          setFailure(undefined);
          setDrawn(true);
          // Written past React: nothing else of the page changes with it.
          if (drawnIn.current) drawnIn.current.textContent = inWords(result, level);
          setClipped(result.clipped);
        }
        onDrawn?.(of);
      },
      counted: (summary) => onSummary?.(summary),
    },
  );
  const [picking, setPicking] = useState<Picking>();
  const pending = useRef<Picking['take']>(undefined);
  const pick = useCallback(
    (of: Plans) =>
      new Promise<ProbeAnswer | undefined>((take) => {
        // One at a time: who asked before is told that nothing came of it.
        pending.current?.(undefined);
        pending.current = take;
        setPicking({ plans: of, take });
      }),
    [],
  );
  const endPicking = (answer?: Promise<ProbeAnswer | undefined>) => {
    picking?.take(answer?.catch(() => undefined));
    setPicking(undefined);
  };
  useImperativeHandle(handle, () => ({ move, pick }), [move, pick]);
  useEffect(() => engine.current?.fill(ahead ?? [], (frames) => onHeld?.(frames)), [engine, ahead, onHeld]);

  const zoomTo = useCallback(
    (next: number, aboutX = size.width / 2, aboutY = size.height / 2) => {
      const limited = Math.min(32, Math.max(0.05, next));
      setPlacement({
        scale: limited,
        x: aboutX - ((aboutX - origin.x) / scale) * limited,
        y: aboutY - ((aboutY - origin.y) / scale) * limited,
      });
    },
    [origin.x, origin.y, scale, size.width, size.height],
  );
  const toFit = useCallback(() => setPlacement({ scale: undefined, x: 0, y: 0 }), []);
  const toWhole = useCallback(() => zoomTo(1 / window.devicePixelRatio), [zoomTo]);
  useCommand({ name: 'Picture: fit', keys: '0', run: toFit });
  useCommand({ name: 'Picture: 1:1', keys: '1', run: toWhole });
  useCommand({ name: 'Picture: 2:1', keys: '2', run: () => zoomTo(2 / window.devicePixelRatio) });

  useEffect(() => {
    const element = box.current!;
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      const area = element.getBoundingClientRect();
      zoomTo(scale * 1.0015 ** -event.deltaY, event.clientX - area.left, event.clientY - area.top);
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [scale, zoomTo]);

  /** Reads a pixel of the picture, by its place at full size. */
  const probeAt = (x: number, y: number) => {
    const drawing = engine.current;
    drawing
      ?.probe(x >> level, y >> level)
      .then((answer) => answer && setProbed({ x, y, answer }))
      .catch((error: unknown) => setFailure(error instanceof Error ? error.message : String(error)));
  };
  const probe = (clientX: number, clientY: number) => {
    const area = box.current!.getBoundingClientRect();
    probeAt(Math.floor((clientX - area.left - origin.x) / scale), Math.floor((clientY - area.top - origin.y) / scale));
  };
  const middle = () => ({
    x: Math.floor(Math.min(shot.width - 1, Math.max(0, (size.width / 2 - origin.x) / scale))),
    y: Math.floor(Math.min(shot.height - 1, Math.max(0, (size.height / 2 - origin.y) / scale))),
  });
  useCommand({
    name: 'Probe: the middle of what is seen',
    keys: 'p',
    run: () => {
      box.current?.focus();
      const { x, y } = middle();
      probeAt(x, y);
    },
  });
  const drag = useRef<{ x: number; y: number; startX: number; startY: number }>(undefined);

  return (
    <>
      <div className="bar">
        <span className="strong clip">{title}</span>
        <span className="grow" />
        {extra}
        <ViewerButtons
          channel={channel}
          onChannel={setChannel}
          fitted={placement.scale === undefined}
          onFit={toFit}
          onWhole={toWhole}
        />
        <span className="number" style={{ width: 42, textAlign: 'right' }}>
          {Math.round(scale * 100)} %
        </span>
      </div>
      <div
        ref={box}
        className={carried ? 'picture carrying' : 'picture'}
        tabIndex={0}
        role="application"
        aria-label="Picture: drag or arrow keys to move, wheel to zoom, P to probe, Shift and arrow keys to move the probe"
        onPointerDown={(e) => {
          if (picking) {
            const area = box.current!.getBoundingClientRect();
            const at = (client: number, from: number, side: number) =>
              Math.floor((client - from - side) / scale) >> level;
            const [x, y] = [at(e.clientX, area.left, origin.x), at(e.clientY, area.top, origin.y)];
            endPicking(engine.current?.probeOf(picking.plans, x, y));
            return;
          }
          e.currentTarget.setPointerCapture(e.pointerId);
          drag.current = { x: origin.x, y: origin.y, startX: e.clientX, startY: e.clientY };
        }}
        onPointerMove={(e) => {
          const d = drag.current;
          if (d && carried) carried.move((e.clientX - d.startX) / scale, (e.clientY - d.startY) / scale, false);
          else if (d && Math.hypot(e.clientX - d.startX, e.clientY - d.startY) > 3)
            setPlacement({ scale, x: d.x + e.clientX - d.startX, y: d.y + e.clientY - d.startY });
          else probe(e.clientX, e.clientY);
        }}
        onPointerUp={(e) => {
          const d = drag.current;
          drag.current = undefined;
          if (d && carried) carried.move((e.clientX - d.startX) / scale, (e.clientY - d.startY) / scale, true);
        }}
        onDoubleClick={toFit}
        onKeyDown={(e) => {
          if (carried && e.key === 'Escape') carried.end();
          if (picking && e.key === 'Escape') endPicking();
          const step = { ArrowLeft: [40, 0], ArrowRight: [-40, 0], ArrowUp: [0, 40], ArrowDown: [0, -40] }[e.key];
          if (!step || e.altKey) return;
          e.preventDefault();
          if (e.shiftKey) {
            // The probe goes the arrow's way: a pixel, or ten with Ctrl.
            const far = e.ctrlKey || e.metaKey ? 10 : 1;
            const from = probed ?? middle();
            const to = (at: number, by: number, side: number) =>
              Math.min(side - 1, Math.max(0, at - Math.sign(by) * far));
            probeAt(to(from.x, step[0]!, shot.width), to(from.y, step[1]!, shot.height));
            return;
          }
          // What is carried goes the arrow's way by a pixel; the view goes under the eye.
          if (carried) carried.move(-Math.sign(step[0]!), -Math.sign(step[1]!), true);
          else setPlacement({ scale, x: origin.x + step[0]!, y: origin.y + step[1]! });
        }}
      >
        <canvas
          ref={canvas}
          data-testid="picture"
          style={{
            width: shot.width,
            height: shot.height,
            transform: `translate(${origin.x}px, ${origin.y}px) scale(${scale})`,
            imageRendering: scale >= 2 ? 'pixelated' : 'auto',
          }}
        />
        <div
          className="tag"
          style={{ right: 14, top: 12, display: 'flex', alignItems: 'center', gap: 8, cursor: 'default' }}
          onPointerDown={(e) => e.stopPropagation()}
          onPointerMove={(e) => e.stopPropagation()}
          onDoubleClick={(e) => e.stopPropagation()}
          onKeyDown={(e) => e.stopPropagation()}
        >
          <ViewingExposure exposure={exposure} onMove={(stops) => move({ exposure: stops })} onExposure={setExposure} />
        </div>
        {clipped !== undefined && clipped > 0 && (
          <div className="tag number" style={{ right: 92, bottom: 12 }} role="status">
            The look cuts off {clipped < 0.001 ? '< 0.1' : (clipped * 100).toFixed(1)} % of the pixels
          </div>
        )}
        {picking && (
          <div className="tag" role="status" style={{ left: 14, top: 12 }}>
            Pick a colour of this entry: click in the picture; Escape leaves
          </div>
        )}
        {carried && !picking && (
          <div className="tag" role="status" style={{ left: 14, top: 12 }}>
            Moving {carried.what}: drag, or arrow keys; Escape ends
          </div>
        )}
        {show === 'difference' && !carried && (
          <div className="tag" style={{ left: 14, top: 12 }}>
            Distance from the beauty, times 100
          </div>
        )}
        {failure && (
          <div
            className="tag"
            role="alert"
            style={{ left: 14, top: 44, right: 14, borderColor: 'var(--brick)', padding: '6px 10px', fontSize: 13 }}
          >
            {failure}
          </div>
        )}
        {!drawn && failure === undefined && plans && (
          <div
            className="making-picture"
            role="status"
            style={{
              left: origin.x,
              top: origin.y,
              width: shot.width * scale,
              height: shot.height * scale,
            }}
          >
            The picture is being made
          </div>
        )}
        {probed && probed.x >= 0 && (
          <i
            className="probe-mark"
            aria-hidden
            style={{ left: origin.x + (probed.x + 0.5) * scale, top: origin.y + (probed.y + 0.5) * scale }}
          />
        )}
        {probed && <ProbePanel probed={probed} shot={shot} display={shot.viewing.display} />}
        <div
          ref={drawnIn}
          className="tag number"
          data-testid="drawn-in"
          style={{ right: 14, bottom: 12, visibility: drawn ? 'visible' : 'hidden' }}
        />
      </div>
    </>
  );
}

/** How long a picture took, and whether it was made coarser while something moves. */
const inWords = ({ milliseconds, level: drawnAt }: PictureResult, level: number) =>
  `${milliseconds.toFixed(0)} ms${drawnAt > level ? ` · 1/${2 ** (drawnAt - level)} size while it moves` : ''}`;
