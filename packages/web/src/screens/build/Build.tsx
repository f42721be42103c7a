import { Button, Tooltip } from 'antd';
import {
  changesPasses,
  changesOverFrames,
  compilePlan,
  documentOf,
  keyedFrames,
  lookFilesOf,
  mend,
  orderWarnings,
  planSource,
  type BalanceFault,
  type ColourKey,
  type LedgerDocument,
  type LedgerSummary,
  type Plan,
  type ShotColour,
} from '@june-haze/core';
import type { Shot, StartingPoint } from '@june-haze/contract';
import { Redo2, Undo2 } from 'lucide-react';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useShotColour } from '../../api/colour.ts';
import { useCommand } from '../../commands/registry.ts';
import { Split } from '../../frame/Split.tsx';
import { useThisShot } from '../../frame/ShotFrame.tsx';
import { FrameStrip } from '../../viewer/playing/FrameStrip.tsx';
import { useAhead } from '../../viewer/playing/useAhead.ts';
import { usePlayback } from '../../viewer/playing/usePlayback.ts';
import { useRested } from '../../viewer/playing/useRested.ts';
import { Plans } from '../../viewer/engine/plans.ts';
import type { SightChoice } from '../../viewer/sights.ts';
import { useSame } from '../../viewer/useSame.ts';
import type { PictureShape } from '../../viewer/ShapeHandles.tsx';
import { Viewer, type ViewerHandle } from '../../viewer/Viewer.tsx';
import { AddEntry } from './AddEntry.tsx';
import { BalanceRow } from './BalanceRow.tsx';
import { FrameContext } from './keys/frameContext.ts';
import { LedgerDrag } from './LedgerDrag.tsx';
import { LedgerList } from './LedgerList.tsx';
import { MatteStrip } from './mattes/MatteStrip.tsx';
import { SamplingContext } from './mattes/samples.ts';
import { ShapeContext } from './mattes/useShape.ts';
import { useSampling } from './mattes/useSampling.ts';
import { MarkedRows } from './MarkedRows.tsx';
import { Recipes } from './Recipes.tsx';
import { newId } from './newId.ts';
import { InWords } from './InWords.tsx';
import { AdjustmentContext, type AtAdjustment } from './atAdjustment.ts';
import { PickContext, type PickInPicture } from './picking.ts';
import { PlacingContext } from './placing.ts';
import { StartPoints } from './StartPoints.tsx';
import { useBalance } from './useBalance.ts';
import { useLedger } from './useLedger.ts';
import { usePlacing } from './usePlacing.ts';

const total: SightChoice = { of: { kind: 'total' } };

const none = {};
const noFaults: Plan['faults'] = [];

function plansOf(
  document: LedgerDocument,
  { sources, workingSpace, width, height }: Pick<Shot, 'sources' | 'workingSpace' | 'width' | 'height'>,
  colour: ShotColour,
  dataAsItIs: boolean,
): Plans {
  const planSources = sources.map(planSource);
  const options = { size: { width, height }, leaveOutFaults: true, dataAsItIs };
  const compile = (frame: number) => compilePlan(document, planSources, workingSpace, colour, { ...options, frame });
  return new Plans(compile, changesOverFrames(document, planSources));
}

/** What is looked at before there is a ledger. */
function beginningOf({ sources }: Shot): SightChoice {
  // As the ways to begin are ordered: what came in most passes first.
  for (const { id, reading, passes } of [...sources].sort((a, b) => b.passes.length - a.passes.length)) {
    const beauty = reading.use === 'plate' ? passes.find((p) => p.role === 'beauty') : undefined;
    if (beauty) return { of: { kind: 'pass', sourceId: id, pass: beauty.name } };
  }
  return total;
}

/** How wide the shot's pixels are beside their height: those of the first source that has its size. */
const shotAspect = ({ sources, width, height }: Shot): number =>
  sources.find((s) => s.width === width && s.height === height)?.pixelAspect ?? 1;

/** A frame's plan, or why there is none: then nothing is drawn. */
function planAt(plans: Plans | undefined, frame: number): { plan?: Plan; problem?: string } {
  try {
    return plans ? { plan: plans.at(frame) } : {};
  } catch (error) {
    return { problem: (error as Error).message };
  }
}

/** The shot's colours with the looks of a ledger that is not kept yet. */
function colourWith({ colour }: Shot, document: LedgerDocument): ColourKey {
  const looks = [...new Set([...colour.looks, ...lookFilesOf(document)])];
  return looks.length === colour.looks.length ? colour : { ...colour, looks };
}

/** The picture at left, the ledger at right as an account. */
export function Build() {
  const shot = useThisShot();
  const showFrame = useRef<(frame: number) => void>(() => undefined);
  const playback = usePlayback(shot, showFrame);
  const { document: saved, canUndo, canRedo, summary: lastChange } = shot.ledger;
  const { document, begin, save, step, rebuild } = useLedger(shot);
  const viewer = useRef<ViewerHandle>(null);
  const drafted = useRef(new Set<(moved: LedgerDocument) => void>());
  const [summary, setSummary] = useState<LedgerSummary>();
  const [where, setWhere] = useState(false);
  const [shape, setShape] = useState<PictureShape>();
  const [chosen, setChosen] = useState<string>();
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set());
  const { sources, workingSpace, width, height } = shot;
  const colourKey = useSame(colourWith(shot, document));
  const { data: colour, error: colourError } = useShotColour(colourKey);
  const [adjustment, setAdjustment] = useState<AtAdjustment>();
  const ahead = useAhead(shot, playback.frame);
  const compiled = useCallback(
    (of: LedgerDocument, placed = sources, dataAsItIs = false) =>
      colour && plansOf(of, { sources: placed, workingSpace, width, height }, colour, dataAsItIs),
    [sources, workingSpace, width, height, colour],
  );
  // Nothing is drawn before the shot's colours are there.
  const plans = useMemo(() => compiled(document), [compiled, document]);
  const { plan, problem = colourError?.message } = useMemo(
    () => planAt(plans, playback.frame),
    [plans, playback.frame],
  );
  const warnings = useMemo(() => orderWarnings(document), [document]);
  // A slider that is dragged moves the picture and itself; the page follows when it comes to rest.
  const latest = useRef({ compiled, document, shot, colour, colourKey });
  useEffect(() => {
    latest.current = { compiled, document, shot, colour, colourKey };
    showFrame.current = (next) => viewer.current?.toFrame(next);
  });
  const draft = useCallback(
    (moved: LedgerDocument) => {
      begin();
      viewer.current?.draft({ document: moved });
      drafted.current.forEach((hear) => hear(moved));
    },
    [begin],
  );
  const showPlaced = useCallback((placed: Shot['sources']) => {
    viewer.current?.draft({ document: latest.current.document, sources: placed });
  }, []);
  const pick = useCallback<PickInPicture>(async (from) => {
    const { compiled: plan, document: whole } = latest.current;
    const plans = plan(documentOf(whole, from), undefined, from.kind === 'pass');
    const answer = plans && (await viewer.current?.pick(plans));
    return answer && { values: answer.working, place: answer.place };
  }, []);
  // An empty ledger is no black picture: it is the beauty, not yet taken apart.
  const start = useSame(beginningOf(shot));
  const beginWith = useCallback(
    (way: StartingPoint) => save(way.document, `began with ${way.title}`.slice(0, 200)),
    [save],
  );
  const mendBalance = useCallback(
    (fault: BalanceFault) => {
      const { document: whole } = latest.current;
      const of = whole.balanceAgainst?.sourceId;
      if (of !== undefined) save(mend(whole, fault, of, newId), `mended ${fault.pass}`);
    },
    [save],
  );
  const { placing, drag } = usePlacing(shot, showPlaced);

  useCommand({ name: 'Undo', keys: 'mod+z', run: () => step('undo'), enabled: canUndo });
  useCommand({ name: 'Redo', keys: 'mod+shift+z', run: () => step('redo'), enabled: canRedo });
  const { frame, playing } = playback;
  const { stored, failure } = useBalance(shot, frame, playing);
  // Small pictures stand still while frames run by.
  const restedFrame = useRested(frame, 300, playing);
  const { firstFrame, lastFrame } = shot;
  const frames = useMemo(
    () => ({ frame: restedFrame, first: firstFrame, last: lastFrame }),
    [restedFrame, firstFrame, lastFrame],
  );
  const keys = useMemo(() => keyedFrames(document), [document]);
  const sampling = useSampling(latest, viewer, drafted, restedFrame);

  return (
    <main className="screen">
      <Split
        id="build"
        rightShare={38}
        rightLeast={440}
        left={
          <section className="column" aria-label="Picture">
            <Viewer
              handle={viewer}
              shot={shot}
              stage="build"
              document={document}
              colour={colour}
              colourKey={colourKey}
              pixelAspect={shotAspect(shot)}
              frame={playback.frame}
              main={document.entries.length ? total : start}
              blocked={problem !== undefined}
              show={where && plan?.balance ? 'difference' : 'total'}
              row={chosen}
              adjustment={adjustment?.entry === chosen ? adjustment?.index : undefined}
              counts={plans}
              onSummary={setSummary}
              drag={drag}
              shape={shape}
              onDrawn={playback.drawn}
              ahead={ahead}
              onHeld={playback.setHeld}
            />
            <FrameStrip shot={shot} playback={playback} keys={keys} />
          </section>
        }
        right={
          <FrameContext value={frames}>
            <section className="column" aria-label="Ledger">
              <div className="bar">
                <span className="strong">Ledger</span>
                <Tooltip placement="bottom" title={`Undo ${lastChange} (Ctrl+Z)`}>
                  <Button
                    size="small"
                    aria-label="Undo"
                    icon={<Undo2 size={13} />}
                    disabled={!canUndo}
                    onClick={() => step('undo')}
                  />
                </Tooltip>
                <Tooltip placement="bottom" title="Redo (Ctrl+Shift+Z)">
                  <Button
                    size="small"
                    aria-label="Redo"
                    icon={<Redo2 size={13} />}
                    disabled={!canRedo}
                    onClick={() => step('redo')}
                  />
                </Tooltip>
                <span className="grow" />
                <Recipes shot={shot} document={document} marked={marked} onSave={save} />
                <InWords shot={shot} document={document} />
                <AddEntry shot={shot} document={document} frame={restedFrame} onSave={save} onRebuild={rebuild} />
              </div>
              <MarkedRows shot={shot} document={document} marked={marked} onMark={setMarked} onSave={save} />
              <SamplingContext value={sampling}>
                <LedgerDrag document={document} onSave={save}>
                  <div className="scroll" style={{ background: 'var(--raised)' }}>
                    {problem && (
                      <div className="problem" role="alert">
                        <span />
                        {problem}
                      </div>
                    )}
                    {document.entries.length === 0 && (
                      <StartPoints shot={shot} frame={restedFrame} onBegin={beginWith} />
                    )}
                    <AdjustmentContext value={setAdjustment}>
                      <PickContext value={pick}>
                        <PlacingContext value={placing}>
                          <LedgerList
                            shot={shot}
                            document={document}
                            frame={restedFrame}
                            shares={summary?.shares ?? none}
                            cutOff={summary?.cutOff ?? none}
                            warnings={warnings}
                            marked={marked}
                            onMark={setMarked}
                            faults={plan?.faults.length ? plan.faults : noFaults}
                            chosen={chosen}
                            onChoose={setChosen}
                            onDraft={draft}
                            onSave={save}
                          />
                        </PlacingContext>
                      </PickContext>
                    </AdjustmentContext>
                  </div>
                  <PickContext value={pick}>
                    <ShapeContext value={setShape}>
                      <MatteStrip shot={shot} document={document} onDraft={draft} onSave={save} />
                    </ShapeContext>
                  </PickContext>
                </LedgerDrag>
              </SamplingContext>
              <BalanceRow
                shot={shot}
                frame={restedFrame}
                live={summary?.balance}
                stored={stored}
                failure={failure}
                against={saved.balanceAgainst?.pass}
                changed={changesPasses(document)}
                where={where}
                onWhere={setWhere}
                onMend={mendBalance}
              />
            </section>
          </FrameContext>
        }
      />
    </main>
  );
}
