import { Button, Dropdown, Input, Select } from 'antd';
import type { Adjustment, Entry, Operation } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { ProofMark } from '../../proof/ProofMark.tsx';
import { AdjustmentEditor } from './AdjustmentEditor.tsx';
import { NumberRow } from './NumberRow.tsx';

interface Props {
  shot: Shot;
  entry: Entry;
  /** The share of its pixels that a look or conversion cuts off. */
  cutOff: number | undefined;
  onDraft: (entry: Entry) => void;
  onSave: (entry: Entry, words: string) => void;
  onRemove: () => void;
}

const operations: { value: Operation; label: string }[] = [
  { value: 'plus', label: '+ plus: adds light' },
  { value: 'minus', label: '− minus: takes light away' },
  { value: 'multiply', label: '× multiply' },
  { value: 'over', label: '◩ over: covers by its alpha' },
];

/** Adjustments as they are added: without effect. */
const fresh: { label: string; adjustment: Adjustment }[] = [
  { label: 'Exposure', adjustment: { kind: 'exposure', enabled: true, stops: 0 } },
  { label: 'Gain per channel', adjustment: { kind: 'gain', enabled: true, red: 1, green: 1, blue: 1 } },
  { label: 'Look, baked', adjustment: { kind: 'look', enabled: true, look: null, lookFile: null } },
];

/** A row opened in place: operation, mix, and its adjustments in order. */
export function EntryEditor({ shot, entry, cutOff, onDraft, onSave, onRemove }: Props) {
  const setAdjustment = (index: number, next: Adjustment): Entry => ({
    ...entry,
    adjustments: entry.adjustments.map((a, i) => (i === index ? next : a)),
  });
  const number = (
    label: string,
    value: number,
    make: (v: number) => Entry,
    range: { min: number; max: number; step: number; unit: string; neutral: number },
  ) => (
    <NumberRow
      key={label}
      label={label}
      value={value}
      {...range}
      onDraft={(v) => onDraft(make(v))}
      onSave={(v) => onSave(make(v), `${label.toLowerCase()} of ${entry.name}`)}
    />
  );
  return (
    <div className="opened">
      <div style={{ display: 'flex', gap: 8, marginBottom: 6 }}>
        <Input
          size="small"
          aria-label="Name"
          defaultValue={entry.name}
          key={entry.name}
          style={{ flex: 1 }}
          onBlur={(e) =>
            e.target.value &&
            e.target.value !== entry.name &&
            onSave({ ...entry, name: e.target.value }, `renamed ${entry.name}`)
          }
          onPressEnter={(e) => e.currentTarget.blur()}
        />
        <Select
          size="small"
          aria-label="Operation"
          value={entry.operation}
          options={operations}
          style={{ width: 190 }}
          onChange={(operation: Operation) => onSave({ ...entry, operation }, `operation of ${entry.name}`)}
        />
      </div>
      {number('Mix', entry.mix, (mix) => ({ ...entry, mix }), { min: 0, max: 1, step: 0.01, unit: '', neutral: 1 })}
      {entry.kind === 'fill' &&
        (['Red', 'Green', 'Blue'] as const).map((name, c) =>
          number(
            name,
            entry.colour[c]!,
            (v) => ({ ...entry, colour: entry.colour.map((x, i) => (i === c ? v : x)) as [number, number, number] }),
            { min: 0, max: 4, step: 0.01, unit: '', neutral: 0.18 },
          ),
        )}
      {entry.kind === 'fill' &&
        number('Alpha', entry.alpha, (alpha) => ({ ...entry, alpha }), {
          min: 0,
          max: 1,
          step: 0.01,
          unit: '',
          neutral: 1,
        })}
      {entry.adjustments.map((a, i) => (
        <AdjustmentEditor
          key={i}
          shot={shot}
          adjustment={a}
          onDraft={(next) => onDraft(setAdjustment(i, next))}
          onSave={(next, changed) => onSave(setAdjustment(i, next), `${changed} of ${entry.name}`)}
          onRemove={() =>
            onSave(
              { ...entry, adjustments: entry.adjustments.filter((_, k) => k !== i) },
              `took an adjustment off ${entry.name}`,
            )
          }
        />
      ))}
      {cutOff !== undefined && cutOff > 0 && (
        <p className="small" role="status">
          <ProofMark state="differs" /> A table cuts off {cutOff < 0.001 ? '< 0.1' : (cutOff * 100).toFixed(1)} % of its
          pixels: they lie beyond its ends.
        </p>
      )}
      <div style={{ display: 'flex', gap: 8, marginTop: 8 }}>
        <Dropdown
          trigger={['click']}
          menu={{
            items: fresh.map(({ label, adjustment }) => ({
              key: adjustment.kind,
              label,
              onClick: () =>
                onSave(
                  { ...entry, adjustments: [...entry.adjustments, adjustment] },
                  `${adjustment.kind} on ${entry.name}`,
                ),
            })),
          }}
        >
          <Button size="small">Add adjustment</Button>
        </Dropdown>
        <Button size="small" onClick={onRemove}>
          Remove entry
        </Button>
      </div>
    </div>
  );
}
