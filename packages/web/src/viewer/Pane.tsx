import type {
  ColourKey,
  Inspection,
  LedgerDocument,
  LedgerSummary,
  ScopeCounts,
  ShotColour,
  Size,
} from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useCallback, useEffect, useImperativeHandle, useMemo, useRef, useState, type Ref } from 'react';
import { useCommand } from '../commands/registry.ts';
import { DifferenceCanvas } from './compare/DifferenceCanvas.tsx';
import { QuickCommands } from './compare/QuickCommands.tsx';
import type { QuickComparison } from './compare/quick.ts';
import type { Comparison } from './compare/useComparison.ts';
import { wipedPart, WipeLine } from './compare/WipeLine.tsx';
import type { PictureResult } from './engine/messages.ts';
import type { OnHeld } from './engine/PictureEngine.ts';
import type { Plans } from './engine/plans.ts';
import { seenOf, type Lying } from './geometry.ts';
import { WarningsTag } from './inspect/WarningsTag.tsx';
import { BeingMade } from './BeingMade.tsx';
import { Dots, type PictureDot } from './Dots.tsx';
import type { PaneHandle } from './paneHandle.ts';
import { PaneTags, tagOf } from './PaneTags.tsx';
import { inWords, PictureCanvas } from './PictureCanvas.tsx';
import { gridFrom, PixelGrid } from './PixelGrid.tsx';
import { colourInspection, isDrawn, isUntouched, suited, type DrawnSecond } from './drawnSecond.ts';
import { ProbeLayer, type ProbeHandle } from './probing/ProbeLayer.tsx';
import { ShapeHandles, type PictureShape } from './ShapeHandles.tsx';
import { sightOf, type Sight, type SightChoice } from './sights.ts';
import { usePicking } from './usePicking.ts';
import { middleOf, usePointer, type PictureDrag } from './usePointer.ts';
import type { ViewerState } from './viewerState.ts';
import { Windows } from './Windows.tsx';

interface Props {
  readonly handle: Ref<PaneHandle>;
  readonly boxRef: (box: HTMLDivElement | null) => void;
  /** Of the pane as a whole. */
  readonly whole: Size;
  readonly lying: Lying;
  readonly shot: Shot;
  readonly document: LedgerDocument;
  readonly colour: ShotColour | undefined;
  readonly colourKey: ColourKey;
  readonly frame: number;
  readonly first: SightChoice;
  readonly sight: Sight | undefined;
  readonly problem: string | undefined;
  readonly comparison: Comparison;
  readonly show: 'total' | 'difference';
  readonly inspection: Inspection;
  readonly state: ViewerState;
  readonly change: (change: Partial<ViewerState>) => void;
  readonly counts: Plans | undefined;
  readonly onSummary: ((summary: LedgerSummary | undefined) => void) | undefined;
  readonly onDrawn: ((frame: number) => void) | undefined;
  readonly onScopes: (counts: ScopeCounts) => void;
  readonly ahead: readonly number[] | undefined;
  readonly onHeld: OnHeld | undefined;
  readonly drag: PictureDrag | undefined;
  readonly dots: readonly PictureDot[];
  readonly shape: PictureShape | undefined;
  /** Hears how long a picture took, in words. */
  readonly onTime: (words: string) => void;
}

/** So long a picture rests before what is read of it is read again. */
const restMilliseconds = 200;

const alphaInspection: Inspection = { kind: 'alpha' };

/** The picture in its pane, or two of them, with what is drawn over them. */
export function Pane(props: Props) {
  const {
    boxRef,
    whole,
    lying,
    shot,
    document,
    colour,
    colourKey,
    frame,
    first,
    sight,
    comparison,
    show,
    state,
    change,
  } = props;
  const { inspection, counts, onSummary, onDrawn, onScopes, ahead, onHeld, drag, onTime, handle } = props;
  const { way, front, second, a, b, getA, getB, differenceWay, encoding } = comparison;
  const box = useRef<HTMLDivElement | null>(null);
  const setBox = useCallback(
    (element: HTMLDivElement | null) => {
      box.current = element;
      boxRef(element);
    },
    [boxRef],
  );
  const probe = useRef<ProbeHandle>(null);
  const [failure, setFailure] = useState<string>();
  const [failureB, setFailureB] = useState<string>();
  const [drawnA, setDrawnA] = useState(false);
  const [drawnB, setDrawnB] = useState<DrawnSecond>();
  const [seen, setSeen] = useState<{ warned: readonly number[]; clipped: number | undefined; turn: number }>({
    warned: [],
    clipped: undefined,
    turn: 0,
  });
  const { picking, pick, takePick, endPicking } = usePicking(getA);
  const onView = useCallback((view: ViewerState['view']) => change({ view }), [change]);
  const onRegion = useCallback((region: ViewerState['region']) => change({ region }), [change]);
  const pointer = usePointer({
    box,
    view: state.view,
    lying,
    onView,
    onRegion,
    probe,
    drag,
    takePick,
    endPick: endPicking,
  });
  const { laid } = pointer;

  const between = differenceWay !== undefined;
  const shownAs = between && !['range', 'vectors'].includes(inspection.kind) ? colourInspection : inspection;
  const scopes = useMemo(
    () =>
      state.scopes.open
        ? { of: state.scopes.of, region: state.scopes.regionOnly ? (state.region ?? undefined) : undefined }
        : undefined,
    [state.scopes, state.region],
  );
  const warn = between ? none : state.warn;
  const rest = {
    shot,
    colour: colourKey,
    size: lying.picture,
    frame,
    show,
    inspection: shownAs,
    warn,
    exposure: state.exposure,
    scale: laid.scale,
    seen: seenOf(laid, lying),
  };

  const shownAsB = comparison.alpha ? alphaInspection : suited(second, shownAs);
  const wantedB = { sight: second, frame, exposure: state.exposure, inspection: shownAsB };
  /** A frame is there when both pictures of it are. */
  const resting = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(resting.current), []);
  const drawnFrames = useRef({ a: -1, b: -1 });
  const drawn = (which: 'a' | 'b', result: PictureResult | Error, of: number) => {
    drawnFrames.current[which] = of;
    const other = drawnFrames.current[which === 'a' ? 'b' : 'a'];
    if (!second || other === of) onDrawn?.(of);
    if (!(result instanceof Error)) {
      comparison.changed();
      // Pinned numbers, and those under the pointer, are read again when the picture rests.
      clearTimeout(resting.current);
      resting.current = setTimeout(() => probe.current?.changed(), restMilliseconds);
      if (result.scopes && (front === 'first') === (which === 'a')) onScopes(result.scopes);
    }
  };
  const toldA = {
    drawn: (result: PictureResult | Error, of: number) => {
      setFailure(result instanceof Error ? result.message : undefined);
      if (!(result instanceof Error)) {
        // Written past React: nothing else of the page changes with it.
        onTime(inWords(result, a.current?.level ?? 0));
        if (!drawnA) setDrawnA(true);
        const needsTurn = laid.scale >= gridFrom;
        setSeen((s) =>
          needsTurn || s.clipped !== result.clipped || s.warned.join() !== result.warned.join()
            ? { warned: result.warned, clipped: result.clipped, turn: s.turn + 1 }
            : s,
        );
      }
      drawn('a', result, of);
    },
    counted: (summary: LedgerSummary) => onSummary?.(summary),
  };
  const toldB = {
    drawn: (result: PictureResult | Error, of: number) => {
      setFailureB(result instanceof Error ? result.message : undefined);
      // Played frames go past React: they change nothing of this.
      if (!(result instanceof Error) && of === frame && second && !isDrawn(drawnB, wantedB)) setDrawnB(wantedB);
      drawn('b', result, of);
    },
    counted: () => undefined,
  };

  useImperativeHandle(
    handle,
    () => ({
      draft: ({ document: moved = document, sources = shot.sources }) => {
        if (!colour) return;
        const place = {
          shot: { ...shot, sources },
          document: moved,
          colour,
          size: lying.picture,
          frame,
          off: state.off,
          plain: state.plain,
        };
        try {
          a.current?.move({ plans: sightOf(first, place).plans });
        } catch {
          // What is looked at is not there in the draft: it is told when it is kept.
        }
      },
      toFrame: (next) => {
        a.current?.move({ frame: next });
        b.current?.move({ frame: next });
      },
      pick,
      sample: (plans, through) => a.current?.engine?.sampleOf(plans, through) ?? Promise.resolve(undefined),
      expose: (stops) => {
        a.current?.move({ exposure: stops });
        b.current?.move({ exposure: stops });
      },
      probe: (x, y) => probe.current?.at(x, y),
    }),
    [a, b, shot, document, colour, lying.picture, frame, first, state.off, state.plain, pick],
  );

  useCommand({
    name: 'Probe: the middle of what is seen',
    keys: 'p',
    run: () => {
      box.current?.focus();
      const { x, y } = middleOf(state.view, lying);
      probe.current?.at(x, y);
    },
  });
  useCommand({ name: 'Region: what is seen', keys: 'o', run: () => change({ region: seenOf(laid, lying) }) });
  useCommand({
    name: 'Region: none',
    keys: 'shift+o',
    run: () => change({ region: null }),
    enabled: state.region !== null,
  });

  const secondHalf = useRef<HTMLDivElement>(null);
  const press = (q: QuickComparison) => {
    // What is drawn already is there with the next frame of the screen; React follows.
    const sightOfQ = q.choice && comparison.sights(q.choice);
    if (way === 'alone' && sightOfQ instanceof Object && isDrawn(drawnB, { ...wantedB, sight: sightOfQ as Sight }))
      secondHalf.current!.style.visibility = 'visible';
    comparison.press(q);
  };

  const side = way === 'side';
  const showsB = second !== undefined && isDrawn(drawnB, wantedB) && (way !== 'flip' || front === 'second') && !between;
  const source =
    first.of.kind === 'pass'
      ? shot.sources.find((s) => s.id === (first.of as { sourceId: string }).sourceId)
      : undefined;
  const luminance = sight?.plans && colour ? colour.luminance(shot.workingSpace) : rec709Weights;
  const inFront = (front === 'second' ? b : a).current?.engine?.shown;
  const over = (
    <>
      <Windows laid={laid} size={lying.picture} source={source} region={state.region} />
      {laid.scale >= gridFrom && (
        <PixelGrid
          laid={laid}
          lying={lying}
          drawn={inFront?.drawn}
          level={inFront?.request.level ?? 0}
          turn={seen.turn}
        />
      )}
    </>
  );
  const told = tagOf({
    picking,
    drag,
    show,
    held: front === 'second' ? second : undefined,
    between: between ? way : undefined,
    times: state.times,
  });

  return (
    <div
      ref={setBox}
      className={drag ? 'picture carrying' : 'picture'}
      tabIndex={0}
      role="application"
      aria-label="Picture: drag or arrow keys to move, wheel to zoom, P to probe, Shift and arrow keys to move the probe, Alt and drag to mark a region"
      onPointerDown={pointer.onPointerDown}
      onPointerMove={pointer.onPointerMove}
      onPointerUp={pointer.onPointerUp}
      onDoubleClick={() => onView('fit')}
      onContextMenu={(e) => e.preventDefault()}
      onKeyDown={pointer.onKeyDown}
    >
      <QuickCommands quick={comparison.quick} onPress={press} />
      <div className="half" style={{ width: side ? lying.pane.width : '100%' }}>
        <PictureCanvas
          handle={a}
          testId="picture"
          laid={laid}
          shown={{
            ...rest,
            inspection: suited(sight, shownAs),
            sight,
            counts,
            scopes: front === 'first' ? scopes : undefined,
          }}
          told={toldA}
          ahead={ahead}
          onHeld={onHeld}
        />
        {between && second && (
          <DifferenceCanvas
            handle={comparison.difference}
            a={getA}
            b={getB}
            way={differenceWay}
            encoding={encoding}
            size={lying.picture}
            laid={laid}
          />
        )}
        {over}
      </div>
      <div
        ref={secondHalf}
        className="half"
        style={{
          left: side ? lying.pane.width : 0,
          width: side ? lying.pane.width : '100%',
          visibility: showsB ? 'visible' : 'hidden',
          ...(comparison.over && second ? { mixBlendMode: 'multiply', opacity: 0.75 } : {}),
          ...(way === 'wipe' && second ? { clipPath: wipedPart(state.wipe, whole) } : {}),
        }}
      >
        <PictureCanvas
          handle={b}
          testId="second"
          laid={laid}
          shown={{ ...rest, inspection: shownAsB, sight: second, scopes: front === 'second' ? scopes : undefined }}
          told={toldB}
          ahead={second ? ahead : undefined}
        />
        {side && over}
      </div>
      {way === 'wipe' && second && (
        <WipeLine
          wipe={state.wipe}
          pane={whole}
          onChange={(wipe) => change({ wipe: { at: [...wipe.at], angle: wipe.angle } })}
        />
      )}
      {side && <i className="between-halves" aria-hidden style={{ left: lying.pane.width }} />}
      <Dots dots={props.dots} laid={laid} />
      {props.shape && <ShapeHandles shape={props.shape} laid={laid} box={box} />}
      <ProbeLayer
        handle={probe}
        shot={shot}
        first={first}
        getA={getA}
        getB={getB}
        second={second?.name}
        untouched={{ first: isUntouched(sight), second: isUntouched(second) }}
        luminance={luminance}
        laid={laid}
        pins={state.pins}
        onPins={(pins) => change({ pins })}
        region={state.region}
        onRegion={onRegion}
      />
      <PaneTags
        told={told}
        pair={(way === 'wipe' || side) && second ? [sight?.name ?? '', second.name] : undefined}
        notes={second?.notes ?? none}
        faults={[props.problem, failure, comparison.problem, second ? failureB : undefined]}
        stops={inspection.kind === 'stops' && !between}
        heat={second && (way === 'codes' || way === 'deltaE') ? way : undefined}
      >
        <WarningsTag warn={warn} warned={seen.warned} clipped={seen.clipped} />
      </PaneTags>
      {!drawnA && failure === undefined && sight && <BeingMade laid={laid} lying={lying} />}
    </div>
  );
}

const none = [] as const;
/** Before the shot's colours are there. */
const rec709Weights = [0.2126, 0.7152, 0.0722] as const;
