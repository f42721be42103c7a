import {
  bakedLooks,
  type ColourKey,
  type LedgerDocument,
  type LedgerSummary,
  type ScopeCounts,
  type ShotColour,
  type Size,
  type Window,
} from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { Button, Tooltip } from 'antd';
import { Activity } from 'lucide-react';
import { useCallback, useImperativeHandle, useMemo, useRef, useState, type ReactNode, type Ref } from 'react';
import { BakedMark } from '../colour/BakedMark.tsx';
import { useCommand } from '../commands/registry.ts';
import { CompareBar } from './compare/CompareBar.tsx';
import { useComparison } from './compare/useComparison.ts';
import type { SampleAnswer } from './engine/messages.ts';
import type { OnHeld, SampledThrough } from './engine/PictureEngine.ts';
import type { Plans } from './engine/plans.ts';
import { lay, type View } from './geometry.ts';
import { InspectBar } from './inspect/InspectBar.tsx';
import { useInspection } from './inspect/useInspection.ts';
import type { PictureDot } from './Dots.tsx';
import { Pane } from './Pane.tsx';
import type { PaneHandle } from './paneHandle.ts';
import { PlacesMenu } from './places/PlacesMenu.tsx';
import { ScopesDrawer } from './scopes/ScopesDrawer.tsx';
import { SeenThrough } from './SeenThrough.tsx';
import type { PictureShape } from './ShapeHandles.tsx';
import { SightPicker } from './SightPicker.tsx';
import type { SightChoice } from './sights.ts';
import { useSights } from './useSights.ts';
import { useViewerState, type ViewerState } from './viewerState.ts';
import { usePane } from './usePane.ts';
import type { PictureDrag } from './usePointer.ts';
import { ZoomButtons } from './ZoomButtons.tsx';
import type { PickAnswer } from './usePicking.ts';

export type { PictureDrag } from './usePointer.ts';

/** What a stage may do with the picture past React. */
export interface ViewerHandle {
  /** Shows it with a ledger or sources that are not kept yet. */
  draft(moved: { readonly document?: LedgerDocument; readonly sources?: Shot['sources'] }): void;
  /** Shows another frame. */
  toFrame(frame: number): void;
  /** The numbers of other plans where the person clicks next; undefined when they leave it. */
  pick(plans: Plans): Promise<PickAnswer | undefined>;
  /** Other plans' numbers over the whole picture, coarsely, or their codes through a viewing; undefined before a picture is there. */
  sample(plans: Plans, through: SampledThrough | undefined): Promise<SampleAnswer | undefined>;
  /** The region that is marked, in pixels of the picture. */
  region(): Window | null;
  /** The pixels that are pinned, in the order in which they were. */
  pins(): readonly (readonly [number, number])[];
}

export interface ViewerProps {
  readonly shot: Shot;
  /** Names what is remembered of how it is looked at. */
  readonly stage: string;
  readonly document: LedgerDocument;
  readonly colour: ShotColour | undefined;
  readonly colourKey: ColourKey;
  /** Of the picture; the shot's when left out. */
  readonly size?: Size;
  readonly pixelAspect?: number;
  readonly frame: number;
  /** What the stage shows of itself. */
  readonly main: SightChoice;
  /** How it is looked at until a person chooses otherwise. */
  readonly atFirst?: Partial<ViewerState>;
  /** Nothing is drawn: the stage says why. */
  readonly blocked?: boolean;
  /** The distance of the total from the beauty, in its place. */
  readonly show?: 'total' | 'difference';
  /** The row that is open, and its adjustment: what comparisons by key are of. */
  readonly row?: string | undefined;
  readonly adjustment?: number | undefined;
  /** What shares and balance are counted of. */
  readonly counts?: Plans | undefined;
  readonly onSummary?: (summary: LedgerSummary | undefined) => void;
  readonly onDrawn?: (frame: number) => void;
  readonly ahead?: readonly number[];
  readonly onHeld?: OnHeld;
  /** What stands before what is looked at. */
  readonly lead?: ReactNode;
  readonly handle?: Ref<ViewerHandle>;
  /** Marks that the stage sets on the picture. */
  readonly dots?: readonly PictureDot[];
  /** A shape that is moved on the picture. */
  readonly shape?: PictureShape | undefined;
  /** What a drag in the picture moves, in place of the view. */
  readonly drag?: PictureDrag | undefined;
}

/** The picture, wherever one is looked at: what it shows, how, beside what, and its numbers. */
export function Viewer(props: ViewerProps) {
  const {
    shot,
    stage,
    document,
    colour,
    colourKey,
    frame,
    main,
    blocked = false,
    show = 'total',
    lead,
    handle,
    drag,
  } = props;
  const { row, adjustment, counts, onSummary, onDrawn, ahead, onHeld, pixelAspect = 1 } = props;
  const [state, change] = useViewerState(shot.id, stage, props.atFirst);
  const { width, height } = props.size ?? shot;
  const size = useMemo(() => ({ width, height }), [width, height]);
  const first = state.first ?? main;
  const sights = useSights({ shot, document, colour, colourKey, size, frame, off: state.off, plain: state.plain });
  const [picking, setPicking] = useState(false);
  const comparison = useComparison({ shot, document, colour, first, row, adjustment, state, change, sights });
  const { inspection, onInspection } = useInspection(shot, first, state, change);
  const paneHandle = useRef<PaneHandle>(null);
  const { lying, whole, ref: boxRef } = usePane(size, pixelAspect, comparison.way === 'side');
  const setView = useCallback((view: View) => change({ view }), [change]);
  const sight = sights(first);

  useImperativeHandle(
    handle,
    () => ({
      draft: (moved) => paneHandle.current?.draft(moved),
      toFrame: (next) => paneHandle.current?.toFrame(next),
      pick: (plans) => paneHandle.current?.pick(plans) ?? Promise.resolve(undefined),
      sample: (plans, through) => paneHandle.current?.sample(plans, through) ?? Promise.resolve(undefined),
      region: () => state.region,
      pins: () => state.pins,
    }),
    [state.region, state.pins],
  );

  const scopeListeners = useRef(new Set<(counts: ScopeCounts) => void>());
  const listen = useCallback((listener: (counts: ScopeCounts) => void) => {
    scopeListeners.current.add(listener);
    return () => void scopeListeners.current.delete(listener);
  }, []);
  const onScopes = useCallback((c: ScopeCounts) => scopeListeners.current.forEach((l) => l(c)), []);
  const pickNumber = useCallback(async () => {
    if (!sight || sight instanceof Error) return undefined;
    return (await paneHandle.current?.pick(sight.plans))?.working[0];
  }, [sight]);
  const baked = useMemo(() => bakedWords(first, document), [first, document]);
  const { open } = state.scopes;
  const swapScopes = () => change({ scopes: { ...state.scopes, open: !open } });
  useCommand({ name: 'Scopes', keys: 'q', run: swapScopes });
  useCommand({ name: 'Look at something else, or compare', keys: 's', run: () => setPicking(true) });
  useCommand({ name: 'Compare in the next way', keys: 'x', run: comparison.next });
  const time = useRef<HTMLSpanElement>(null);
  const onTime = useCallback((words: string) => {
    if (time.current) time.current.textContent = words;
  }, []);

  return (
    <div className="viewer">
      <div className="bar">
        {lead}
        <Tooltip title="Look at something else, or compare (S)">
          <button className="plain strong clip what" onClick={() => setPicking(true)}>
            {show === 'difference' ? 'Difference' : sight instanceof Error || !sight ? 'Picture' : sight.name}
          </button>
        </Tooltip>
        {state.first && (
          <Button size="small" onClick={() => change({ first: null })}>
            Back
          </Button>
        )}
        <Button size="small" aria-pressed={comparison.open} onClick={comparison.next} title="Compare (X)">
          Compare
        </Button>
        <span className="grow" />
        <InspectBar
          inspection={inspection}
          onInspection={onInspection}
          warn={state.warn}
          onWarn={(warn) => change({ warn: [...warn] })}
          onPick={pickNumber}
        />
        <Tooltip title="Scopes (Q)">
          <Button
            size="small"
            aria-label="Scopes"
            aria-pressed={open}
            icon={<Activity size={12} />}
            onClick={swapScopes}
          />
        </Tooltip>
        <PlacesMenu
          shot={shot}
          view={state.view}
          lying={lying}
          last={state.lastPlace}
          onGo={(view, lastPlace) => change({ view, lastPlace })}
        />
        <ZoomButtons view={state.view} lying={lying} onView={setView} />
      </div>
      {comparison.open && comparison.second && (
        <CompareBar
          first={sight && !(sight instanceof Error) ? sight.name : ''}
          second={comparison.second.name}
          notes={comparison.second.notes}
          way={state.way}
          onWay={(way) => change({ way })}
          times={state.times}
          onTimes={(times) => change({ times })}
          figures={comparison.figures}
          onGo={(at) => {
            const [x, y] = [at[0] + 0.5, at[1] + 0.5];
            const scale = Math.max(8, lay(state.view, lying).scale);
            change({ view: { scale, centre: [x, y] } });
            paneHandle.current?.probe(at[0], at[1]);
          }}
          onChoose={() => setPicking(true)}
          onSwap={comparison.swap}
          onClose={() => change({ way: 'alone' })}
        />
      )}
      <Pane
        handle={paneHandle}
        boxRef={boxRef}
        whole={whole}
        lying={lying}
        shot={shot}
        document={document}
        colour={colour}
        colourKey={colourKey}
        frame={frame}
        first={first}
        sight={blocked || sight instanceof Error || !whole.width ? undefined : sight}
        problem={sight instanceof Error ? sight.message : undefined}
        comparison={comparison}
        show={show}
        inspection={inspection}
        state={state}
        change={change}
        counts={counts}
        onSummary={onSummary}
        onDrawn={onDrawn}
        onScopes={onScopes}
        ahead={ahead}
        onHeld={onHeld}
        drag={drag}
        dots={props.dots ?? noDots}
        shape={props.shape}
        onTime={onTime}
      />
      {open && (
        <ScopesDrawer
          scopes={state.scopes}
          onScopes={(scopes) => change({ scopes })}
          hasRegion={state.region !== null}
          listen={listen}
          title={comparison.front === 'second' && comparison.second ? comparison.second.name : first.of.kind}
        />
      )}
      <SeenThrough
        viewing={shot.viewing}
        exposure={state.exposure}
        onMove={(stops) => paneHandle.current?.expose(stops)}
        onExposure={(exposure) => change({ exposure })}
        off={state.off}
        onOff={(off) => change({ off: [...off] })}
        plain={state.plain}
        onPlain={(plain) => change({ plain })}
      >
        {baked !== undefined && <BakedMark words={baked} />}
        <span ref={time} className="number quiet" data-testid="drawn-in" />
      </SeenThrough>
      <SightPicker
        open={picking}
        shot={shot}
        document={document}
        colour={colour}
        frame={frame}
        first={first}
        onFirst={(choice) => change({ first: choice })}
        onSecond={(second) => change({ second, way: state.way === 'alone' ? 'flip' : state.way })}
        onClose={() => setPicking(false)}
      />
    </div>
  );
}

/** The looks that are in the pixels of what is shown; undefined for none, and for what the ledger does not make. */
function bakedWords({ of }: SightChoice, document: LedgerDocument): string | undefined {
  if (of.kind === 'pass' || of.kind === 'reference' || of.kind === 'output' || of.kind === 'start') return undefined;
  const looks = new Set(bakedLooks(document).map((b) => b.look));
  return looks.size ? [...looks].join(', ') : undefined;
}

const noDots = [] as const;
