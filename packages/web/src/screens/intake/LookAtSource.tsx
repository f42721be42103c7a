import { useMemo } from 'react';
import type { Shot, Source } from '@june-haze/contract';
import { Look } from '../../viewer/Look.tsx';
import type { SightChoice } from '../../viewer/sights.ts';

interface Props {
  readonly shot: Shot;
  readonly source: Source;
  readonly pass: string;
  readonly onClose: () => void;
}

/** A source in the viewer: in its own size, as it lies, through the shot's viewing or, a reference, untouched. */
export function LookAtSource({ shot, source, pass, onClose }: Props) {
  const { id, width, height, firstFrame, lastFrame, rate, reading } = source;
  const main = useMemo(
    (): SightChoice =>
      reading.use === 'reference'
        ? { of: { kind: 'reference', sourceId: id } }
        : { of: { kind: 'pass', sourceId: id, pass } },
    [reading.use, id, pass],
  );
  const own = useMemo(
    () => ({ width, height, firstFrame, lastFrame, rate: rate ?? shot.rate }),
    [width, height, firstFrame, lastFrame, rate, shot.rate],
  );
  // By itself it lies as it is, however it is placed in the shot.
  const seen = useMemo(
    (): Shot => ({
      ...shot,
      sources: shot.sources.map((s) => (s.id === id ? { ...s, reading: { ...s.reading, placement: null } } : s)),
    }),
    [shot, id],
  );
  return (
    <Look
      shot={seen}
      stage={`intake ${id} ${pass}`}
      title={source.name}
      main={main}
      own={own}
      pixelAspect={source.pixelAspect}
      onClose={onClose}
    />
  );
}
