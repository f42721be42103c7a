import { Button, Select } from 'antd';
import type { Beyond } from '@june-haze/core';
import type { Shot, Source, SourceReading } from '@june-haze/contract';

/** What is said of each way to go on beyond a source's own frames. */
export const beyondChoices: readonly { readonly value: Beyond; readonly label: string }[] = [
  { value: 'stop', label: 'writing fails' },
  { value: 'nothing', label: 'nothing: its rows rest' },
  { value: 'hold', label: 'first and last are held' },
  { value: 'loop', label: 'it begins again' },
  { value: 'thereAndBack', label: 'there and back' },
];

/** What sources give before their first frame and after their last. */
export function BeyondField({
  sources,
  set,
}: {
  sources: readonly Source[];
  set: (change: Partial<SourceReading>) => void;
}) {
  const [{ beyond }, ...others] = sources.map((s) => s.reading) as [SourceReading, ...SourceReading[]];
  const id = `beyond-${sources.map((s) => s.id).join('-')}`;
  return (
    <label className="field" htmlFor={id}>
      <span>Outside its frames</span>
      <Select
        id={id}
        size="small"
        aria-label="Outside its frames"
        style={{ width: 176 }}
        placeholder="differ"
        value={others.every((r) => r.beyond === beyond) ? beyond : undefined}
        options={[...beyondChoices]}
        onChange={(next) => set({ beyond: next })}
      />
    </label>
  );
}

/** Offers the speed at which a second of a source stays a second, where the shot has another rate. */
export function OwnPace({
  shot,
  sources,
  set,
}: {
  shot: Shot;
  sources: readonly Source[];
  set: (change: Partial<SourceReading>) => void;
}) {
  const rates = new Set(sources.map((s) => s.rate));
  const [rate] = [...rates];
  if (rates.size !== 1 || !rate || rate === shot.rate) return null;
  const speed = rate / shot.rate;
  if (sources.every((s) => s.reading.speed === speed)) return null;
  return (
    <Button
      size="small"
      title={`${rate} frames a second in a shot of ${shot.rate}: whole frames are ${speed > 1 ? 'left out' : 'repeated'}, never blended`}
      onClick={() => set({ speed })}
    >
      Keep its pace: speed {Number(speed.toPrecision(4))}
    </Button>
  );
}
