import { useCallback, useMemo, useRef, useState } from 'react';
import type { Shot } from '@june-haze/contract';
import { Link } from 'react-router';
import { useShotColour } from '../../api/colour.ts';
import { Split } from '../../frame/Split.tsx';
import { useThisShot } from '../../frame/ShotFrame.tsx';
import type { PictureDot } from '../../viewer/Dots.tsx';
import type { SightChoice } from '../../viewer/sights.ts';
import { Viewer, type ViewerHandle } from '../../viewer/Viewer.tsx';
import { BlackAndWhite } from './BlackAndWhite.tsx';
import { CarryOver } from './CarryOver.tsx';
import { Chart } from './Chart.tsx';
import { ComparedChoice } from './ComparedChoice.tsx';
import { Finder } from './Finder.tsx';
import { Neutralise } from './Neutralise.tsx';
import { ProofPanel } from './ProofPanel.tsx';
import { RendererNote } from './RendererNote.tsx';
import { SourcesStrip } from './SourcesStrip.tsx';
import { useProof } from './useProof.ts';
import { ViewsStrip } from './ViewsStrip.tsx';
import { WriteViewing } from './WriteViewing.tsx';

/** Two pictures are what this stage is about: a line parts them until a person chooses otherwise. */
const atFirst = { way: 'wipe' } as const;

/** Ours and the reference at left; what made the reference, and the proof, at right. */
export function Match() {
  const shot = useThisShot();
  const { match } = shot;
  const source = shot.sources.find((s) => s.id === match.source);
  const reference = shot.sources.find((s) => s.id === match.reference);
  const { data: colour } = useShotColour(shot.colour);
  const proving = useProof(shot);
  const viewer = useRef<ViewerHandle>(null);
  const region = useCallback(() => viewer.current?.region() ?? null, []);
  const [dots, setDots] = useState<readonly PictureDot[]>([]);
  const pins = useCallback(() => viewer.current?.pins() ?? [], []);
  // By themselves, so that an answer that changes no source makes no picture anew.
  const sources = useMemo(() => asTheyLie(shot.sources, match.source), [shot.sources, match.source]);
  const seen = useMemo((): Shot => ({ ...shot, sources }), [shot, sources]);
  const size = useMemo(
    () => ({ width: source?.width ?? 0, height: source?.height ?? 0 }),
    [source?.width, source?.height],
  );
  const main = useMemo(
    (): SightChoice => ({ of: { kind: 'pass', sourceId: match.source ?? '', pass: match.pass ?? '' } }),
    [match.source, match.pass],
  );
  if (!source || match.pass === null) return <NothingYet shot={shot} />;
  return (
    <main className="screen">
      <Split
        id="june-haze-match"
        rightShare={36}
        rightLeast={380}
        left={
          <section className="column" aria-label="Picture">
            <Viewer
              handle={viewer}
              shot={seen}
              size={size}
              stage="match"
              document={shot.ledger.document}
              colour={colour}
              colourKey={shot.colour}
              frame={match.frame}
              main={main}
              dots={dots}
              {...(reference ? { atFirst } : {})}
              lead={<ComparedChoice shot={shot} source={source} reference={reference} />}
            />
            <ViewsStrip shot={shot} source={source} pass={match.pass} colour={colour} />
            <SourcesStrip shot={shot} colour={colour} />
          </section>
        }
        right={
          <section className="column match" aria-label="What made the reference">
            {reference ? (
              <>
                <ProofPanel shot={shot} proving={proving} />
                <Finder shot={shot} />
              </>
            ) : (
              <div className="empty">
                No reference yet. Save a picture from the renderer with its view on, bring it in at{' '}
                <Link to={`/shots/${shot.id}/intake`}>Intake</Link> and use it as a reference. Without one, choose a
                view by looking: the strip below the picture shows the frame through each.
              </div>
            )}
            <div className="bar">
              <WriteViewing shot={shot} colour={colour} />
              <CarryOver shot={shot} />
            </div>
            <Neutralise shot={shot} colour={colour} region={region} />
            <BlackAndWhite shot={shot} region={region} />
            <Chart shot={shot} pins={pins} colour={colour} onDots={setDots} />
            <RendererNote shot={shot} colour={colour} />
          </section>
        }
      />
    </main>
  );
}

function NothingYet({ shot }: { shot: Shot }) {
  return (
    <div className="empty">
      Nothing to compare yet: bring a render in at <Link to={`/shots/${shot.id}/intake`}>Intake</Link>.
    </div>
  );
}

/** A render by itself lies as it is, however it is placed in the shot. */
const asTheyLie = (sources: Shot['sources'], render: string | null): Shot['sources'] =>
  sources.map((s) => (s.id === render ? { ...s, reading: { ...s.reading, placement: null } } : s));
