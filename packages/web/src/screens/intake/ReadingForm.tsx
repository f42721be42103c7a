import { Button, InputNumber, Select } from 'antd';
import type { Shot, Source, SourceReading } from '@june-haze/contract';
import { useShotChange } from '../../api/shots.ts';
import { linedUp } from './frames.ts';
import { BeyondField, OwnPace } from './PacingFields.tsx';

type Change = Partial<SourceReading>;
type NumberField = 'rate' | 'firstFrame' | 'speed' | 'pixelAspect';

/**
 * How sources are read otherwise than their files say: rate, first frame, speed, pixel aspect, alpha, range, and what they are for. One or many at
 * once; a field that differs between them is empty until it is set.
 */
export function ReadingForm({ shot, sources }: { shot: Shot; sources: readonly Source[] }) {
  const change = useShotChange();
  const set = (reading: Change) =>
    change.mutate({
      path: `/shots/${shot.id}/sources`,
      method: 'PATCH',
      body: { sources: sources.map((s) => s.id), change: { reading } },
    });
  const same = <T,>(pick: (s: Source) => T): T | undefined => {
    const first = pick(sources[0]!);
    return sources.every((s) => pick(s) === first) ? first : undefined;
  };
  const id = sources.map((s) => s.id).join('-');
  const moving = sources.some((s) => !s.still);
  const ranged = sources.some((s) => s.stored.range !== null);
  const number = (
    label: string,
    key: NumberField,
    value: number | null | undefined,
    stored: number | null | undefined,
    step: number,
  ) => (
    <label className="field">
      <span>{label}</span>
      <InputNumber
        // What the server answers replaces what was typed.
        key={String(value)}
        size="small"
        className="number"
        aria-label={label}
        controls={false}
        step={step}
        defaultValue={value ?? undefined}
        placeholder="differ"
        style={{ width: 74 }}
        onPressEnter={(e) => commit(key, (e.target as HTMLInputElement).value, value)}
        onBlur={(e) => commit(key, e.target.value, value)}
      />
      {stored !== undefined && value !== stored && (
        <Button size="small" type="link" onClick={() => set({ [key]: key === 'speed' ? 1 : null })}>
          {key === 'speed' ? 'as numbered' : `files say ${stored ?? 'nothing'}`}
        </Button>
      )}
    </label>
  );
  const commit = (key: NumberField, text: string, before: number | null | undefined) => {
    const typed = Number(text);
    if (text.trim() !== '' && Number.isFinite(typed) && typed !== before) set({ [key]: typed });
  };
  // The render with a timecode that this source could follow.
  const [source] = sources;
  const leader = [...shot.sources]
    .sort((a, b) => b.passes.length - a.passes.length)
    .find((s) => s.timecode !== null && s.id !== source!.id && !s.still);
  const begins = sources.length === 1 && leader ? linedUp(source!, leader, source!.rate ?? shot.rate) : undefined;
  return (
    <div className="reading" role="group" aria-label="Read as">
      {moving &&
        number(
          'Rate, fps',
          'rate',
          same((s) => s.rate),
          same((s) => s.stored.rate),
          1,
        )}
      {moving &&
        number(
          'First frame',
          'firstFrame',
          same((s) => s.firstFrame),
          same((s) => s.stored.firstFrame),
          1,
        )}
      {moving &&
        number(
          'Speed, by whole frames',
          'speed',
          same((s) => s.reading.speed),
          1,
          0.1,
        )}
      {moving && <OwnPace shot={shot} sources={sources} set={set} />}
      {moving && <BeyondField sources={sources} set={set} />}
      {number(
        'Pixel aspect',
        'pixelAspect',
        same((s) => s.pixelAspect),
        same((s) => s.stored.pixelAspect),
        0.1,
      )}
      <label className="field" htmlFor={`alpha-${id}`}>
        <span>Alpha</span>
        <Select
          id={`alpha-${id}`}
          size="small"
          aria-label="Alpha"
          style={{ width: 132 }}
          placeholder="differ"
          value={same((s) => s.alpha)}
          options={['none', 'premultiplied', 'straight'].map((value) => ({ value, label: value }))}
          onChange={(alpha) => set({ alpha })}
        />
      </label>
      {begins !== undefined && begins !== source!.firstFrame && (
        <Button
          size="small"
          title={`Its timecode ${source!.timecode}, that of ${leader!.name} ${leader!.timecode}`}
          onClick={() => set({ firstFrame: begins })}
        >
          Line up by timecode: begin at {begins}
        </Button>
      )}
      {ranged && (
        <label className="field" htmlFor={`range-${id}`}>
          <span>Codes</span>
          <Select
            id={`range-${id}`}
            size="small"
            aria-label="Codes"
            style={{ width: 112 }}
            placeholder="differ"
            value={same((s) => s.range)}
            options={[
              { value: 'full', label: 'full range' },
              { value: 'legal', label: 'legal range' },
            ]}
            onChange={(range) => set({ range })}
          />
        </label>
      )}
    </div>
  );
}
