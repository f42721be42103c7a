import { histogramOf, valueAt, withKey, type Keyed } from '@june-haze/core';
import { useContext, useMemo } from 'react';
import { FrameContext } from './keys/frameContext.ts';
import { ShapedHistogram } from './ShapedHistogram.tsx';
import { IncomingContext } from './useIncoming.ts';

const bins = 96;

interface Props {
  levels: Readonly<Record<string, unknown>>;
  onDraft: (change: Readonly<Record<string, Keyed>>) => void;
  onSave: (change: Readonly<Record<string, Keyed>>, words: string) => void;
}

/** Levels over how often each number occurs in what comes to them: black and white in are dragged. */
export function LevelsPlot({ levels, onDraft, onSave }: Props) {
  const incoming = useContext(IncomingContext);
  const { frame } = useContext(FrameContext);
  const stored = { blackIn: (levels.blackIn ?? 0) as Keyed, whiteIn: (levels.whiteIn ?? 1) as Keyed };
  const [blackIn, whiteIn] = [valueAt(stored.blackIn, frame), valueAt(stored.whiteIn, frame)];
  const kept = (change: Readonly<Record<string, number>>) =>
    Object.fromEntries(
      Object.entries(change).map(([key, v]) => {
        const before = stored[key as keyof typeof stored];
        return [key, typeof before === 'number' ? v : withKey(before, frame, v)];
      }),
    );
  const histogram = useMemo(() => {
    if (!incoming) return undefined;
    const all = incoming.colours.flatMap((p) => [...p]);
    return histogramOf(Float32Array.from(all), 'even', [blackIn, whiteIn], bins);
  }, [incoming, blackIn, whiteIn]);
  if (!histogram) return null;
  const shape = [
    [blackIn, 0],
    [whiteIn, 1],
  ] as const;
  const ends = [
    { key: 'blackIn', title: 'Black in', value: blackIn },
    { key: 'whiteIn', title: 'White in', value: whiteIn },
  ];
  return (
    <ShapedHistogram
      {...{ histogram, shape, ends }}
      onDraft={(change) => onDraft(kept(change))}
      onSave={(change, words) => onSave(kept(change), words)}
    />
  );
}
