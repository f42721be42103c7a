import { Button, Switch } from 'antd';
import { lookWords, type Adjustment } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useShotColour } from '../../api/colour.ts';
import { BakedMark } from '../../colour/BakedMark.tsx';
import { LookField } from '../../colour/LookField.tsx';
import { LookFileSelect } from '../../colour/LookFileSelect.tsx';
import { NumberRow } from './NumberRow.tsx';

interface Props {
  shot: Shot;
  adjustment: Adjustment;
  onDraft: (next: Adjustment) => void;
  /** Keeps a change; `words` say what of the adjustment it was. */
  onSave: (next: Adjustment, words: string) => void;
  onRemove: () => void;
}

export const adjustmentTitles: Record<Adjustment['kind'], string> = {
  exposure: 'Exposure',
  gain: 'Gain',
  look: 'Look, baked',
};

const gain = { min: 0, max: 4, step: 0.01, unit: '×', neutral: 1 };
const stops = { min: -6, max: 6, step: 0.05, unit: 'stops', neutral: 0 };

/** One adjustment of an entry: on or off, its numbers, and a way to take it off. */
export function AdjustmentEditor({ shot, adjustment: a, onDraft, onSave, onRemove }: Props) {
  const number = (label: string, value: number, range: typeof gain, make: (v: number) => Adjustment) => (
    <NumberRow
      key={label}
      label={label}
      value={value}
      {...range}
      onDraft={(v) => onDraft(make(v))}
      onSave={(v) => onSave(make(v), label.toLowerCase())}
    />
  );
  return (
    <div style={{ borderTop: '1px solid var(--hairline)', marginTop: 4, paddingTop: 4 }}>
      <div style={{ display: 'flex', gap: 8, alignItems: 'center', fontSize: 12 }}>
        <Switch
          size="small"
          checked={a.enabled}
          aria-label={`${a.kind} on`}
          onChange={(enabled) => onSave({ ...a, enabled }, a.kind)}
        />
        <span className="strong">{adjustmentTitles[a.kind]}</span>
        {a.kind === 'look' ? <BakedMark words={lookWords(a)} /> : <span className="quiet">in {shot.workingSpace}</span>}
        <span className="grow" />
        <Button size="small" type="text" onClick={onRemove}>
          Remove
        </Button>
      </div>
      {a.kind === 'exposure' && number('Exposure', a.stops, stops, (v) => ({ ...a, stops: v }))}
      {a.kind === 'gain' &&
        (['red', 'green', 'blue'] as const).map((c) => number(`Gain ${c}`, a[c], gain, (v) => ({ ...a, [c]: v })))}
      {a.kind === 'look' && <LookRows shot={shot} look={a} onSave={(next) => onSave(next, 'look')} />}
    </div>
  );
}

type Look = Extract<Adjustment, { kind: 'look' }>;

/** What a baked look is made of: a LUT or CDL of the Library first, then looks of the config. */
function LookRows({ shot, look, onSave }: { shot: Shot; look: Look; onSave: (next: Look) => void }) {
  const { data: colour } = useShotColour(shot.colour);
  const names = colour?.looks().map((l) => l.name) ?? [];
  return (
    <>
      <div className="setting wide">
        <span>Look file</span>
        <LookFileSelect
          label="Baked look file"
          value={look.lookFile}
          onChange={(lookFile) => onSave({ ...look, lookFile })}
        />
      </div>
      {(names.length > 0 || look.look) && (
        <div className="setting wide">
          <span>Look</span>
          <LookField
            label="Baked look"
            value={look.look || null}
            names={names}
            unset="none"
            onChange={(name) => onSave({ ...look, look: name })}
          />
        </div>
      )}
    </>
  );
}
