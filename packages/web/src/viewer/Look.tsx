import { Button } from 'antd';
import { ChevronLeft } from 'lucide-react';
import { useEffect, useMemo, useRef, type ReactNode } from 'react';
import type { Shot } from '@june-haze/contract';
import { useShotColour } from '../api/colour.ts';
import { useCommand } from '../commands/registry.ts';
import { FrameStrip } from './playing/FrameStrip.tsx';
import { useAhead } from './playing/useAhead.ts';
import { usePlayback } from './playing/usePlayback.ts';
import type { SightChoice } from './sights.ts';
import { Viewer, type ViewerHandle } from './Viewer.tsx';

interface Props {
  readonly shot: Shot;
  /** Names what is remembered of how it is looked at. */
  readonly stage: string;
  readonly title: ReactNode;
  readonly main: SightChoice;
  /** What it has of its own, other than the shot's. */
  readonly own?: Partial<Pick<Shot, 'width' | 'height' | 'firstFrame' | 'lastFrame' | 'rate'>>;
  readonly pixelAspect?: number;
  readonly onClose: () => void;
}

/** One thing of a stage in the viewer, on all of the screen: it is closed to come back. */
export function Look({ shot, stage, title, main, own, pixelAspect = 1, onClose }: Props) {
  const seen = useMemo((): Shot => ({ ...shot, ...own }), [shot, own]);
  const viewer = useRef<ViewerHandle>(null);
  const showFrame = useRef<(frame: number) => void>(() => undefined);
  useEffect(() => {
    showFrame.current = (next) => viewer.current?.toFrame(next);
  });
  const playback = usePlayback(seen, showFrame);
  const ahead = useAhead(seen, playback.frame);
  const { data: colour } = useShotColour(shot.colour);
  useCommand({ name: 'Close the viewer', keys: 'backspace', run: onClose });
  return (
    <main className="screen">
      <section className="column" aria-label="Picture">
        <Viewer
          handle={viewer}
          shot={seen}
          stage={stage}
          document={shot.ledger.document}
          colour={colour}
          colourKey={shot.colour}
          pixelAspect={pixelAspect}
          frame={playback.frame}
          main={main}
          onDrawn={playback.drawn}
          ahead={ahead}
          onHeld={playback.setHeld}
          lead={
            <>
              <Button size="small" icon={<ChevronLeft size={12} />} onClick={onClose} title="Back (Backspace)">
                Back
              </Button>
              <span className="clip">{title}</span>
            </>
          }
        />
        {seen.lastFrame > seen.firstFrame && <FrameStrip shot={seen} playback={playback} />}
      </section>
    </main>
  );
}
