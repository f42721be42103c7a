import { Button, Input, Select } from 'antd';
import {
  adjustmentsOf,
  blends,
  findFinish,
  type Adjustment,
  type Entry,
  type Keyed,
  type LedgerDocument,
  type Operation,
} from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useContext } from 'react';
import { ProofMark } from '../../proof/ProofMark.tsx';
import { AddAdjustment } from './AddAdjustment.tsx';
import { AdjustmentContext } from './atAdjustment.ts';
import { AdjustmentEditor } from './AdjustmentEditor.tsx';
import { MatteRows } from './MatteRows.tsx';
import { KeyedRow } from './keys/KeyedRow.tsx';
import { ParameterRows } from './ParameterRows.tsx';
import { PlacementRows } from './PlacementRows.tsx';

type Mattes = LedgerDocument['mattes'];

interface Props {
  shot: Shot;
  document: LedgerDocument;
  entry: Entry;
  /** The share of its pixels that a look or conversion cuts off. */
  cutOff: number | undefined;
  /** With `mattes`, those of the document change too. */
  onDraft: (entry: Entry, mattes?: Mattes) => void;
  onSave: (entry: Entry, words: string, mattes?: Mattes) => void;
  onRemove: () => void;
}

const operations = blends.map((b) => ({
  value: b.kind,
  short: `${b.sign} ${b.kind}`,
  label: `${b.sign} ${b.kind}: ${b.does}`,
}));

/** A row opened in place: name, operation, mix, matte, and its adjustments in order; of a finish, its parameters. */
export function EntryEditor({ shot, document, entry, cutOff, onDraft, onSave, onRemove }: Props) {
  const number = (
    label: string,
    value: Keyed,
    make: (v: Keyed) => Entry,
    range: { min: number; max: number; step: number; unit: string; neutral: number },
  ) => (
    <KeyedRow
      key={label}
      label={label}
      value={value}
      {...range}
      onDraft={(v) => onDraft(make(v))}
      onSave={(v) => onSave(make(v), `${label.toLowerCase()} of ${entry.name}`)}
    />
  );
  const unit = { min: 0, max: 1, step: 0.01, unit: '', neutral: 1 };
  const mattes = Object.keys(document.mattes ?? {});
  const source = entry.kind === 'pass' ? shot.sources.find((s) => s.id === entry.sourceId) : undefined;
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
        {entry.kind !== 'finish' && (
          <Select
            size="small"
            aria-label="Operation"
            value={entry.operation}
            options={operations}
            optionLabelProp="short"
            style={{ width: 120 }}
            popupMatchSelectWidth={420}
            onChange={(operation: Operation) => onSave({ ...entry, operation }, `operation of ${entry.name}`)}
          />
        )}
      </div>
      {number('Mix', entry.mix, (mix) => ({ ...entry, mix }), unit)}
      <MatteRows
        shot={shot}
        document={document}
        value={entry.matte}
        of={entry.name}
        onUse={(matte, changed, words) => onSave({ ...entry, matte }, words, changed)}
        onDraft={(changed) => onDraft(entry, changed)}
        onSave={(changed, words) => onSave(entry, words, changed)}
      />
      {source && <PlacementRows shot={shot} source={source} />}
      {entry.kind === 'fill' &&
        (['Red', 'Green', 'Blue'] as const).map((name, c) =>
          number(
            name,
            entry.colour[c]!,
            (v) => ({ ...entry, colour: entry.colour.map((x, i) => (i === c ? v : x)) as [Keyed, Keyed, Keyed] }),
            { min: 0, max: 4, step: 0.01, unit: '', neutral: 0.18 },
          ),
        )}
      {entry.kind === 'fill' && number('Alpha', entry.alpha, (alpha) => ({ ...entry, alpha }), unit)}
      {entry.kind === 'finish' && (
        <FinishRows shot={shot} entry={entry} mattes={mattes} onDraft={onDraft} onSave={onSave} />
      )}
      <Adjustments shot={shot} document={document} entry={entry} onDraft={onDraft} onSave={onSave} />
      {cutOff !== undefined && cutOff > 0 && (
        <p className="small" role="status">
          <ProofMark state="differs" /> A table cuts off {cutOff < 0.001 ? '< 0.1' : (cutOff * 100).toFixed(1)} % of its
          pixels: they lie beyond its ends.
        </p>
      )}
      <div style={{ display: 'flex', gap: 8, marginTop: 8 }}>
        {(entry.kind !== 'finish' || findFinish(entry.finish)?.adjusts) && (
          <AddAdjustment
            onAdd={(added) =>
              onSave(
                { ...entry, adjustments: [...adjustmentsOf(entry), ...added] } as Entry,
                `${added.map((a) => a.kind).join(', ')} on ${entry.name}`.slice(0, 200),
              )
            }
          />
        )}
        <Button size="small" onClick={onRemove}>
          Remove entry
        </Button>
      </div>
    </div>
  );
}

interface PartProps<E> {
  shot: Shot;
  entry: E;
  mattes: readonly string[];
  onDraft: (entry: Entry) => void;
  onSave: (entry: Entry, words: string) => void;
}

function Adjustments({
  shot,
  document,
  entry,
  onDraft,
  onSave,
}: Omit<PartProps<Entry>, 'mattes'> & { document: LedgerDocument }) {
  const adjustments = adjustmentsOf(entry);
  const set = (index: number, next: Adjustment): Entry => ({
    ...entry,
    adjustments: adjustments.map((a, i) => (i === index ? next : a)),
  });
  const work = useContext(AdjustmentContext);
  return adjustments.map((a, i) => (
    <div
      key={i}
      onFocus={() => work({ entry: entry.id, index: i })}
      onPointerDown={() => work({ entry: entry.id, index: i })}
    >
      <AdjustmentEditor
        shot={shot}
        adjustment={a}
        document={document}
        at={{ entry: entry.id, index: i }}
        onDraft={(next) => onDraft(set(i, next))}
        onSave={(next, changed) => onSave(set(i, next), `${changed} of ${entry.name}`)}
        onRemove={() =>
          onSave(
            { ...entry, adjustments: adjustments.filter((_, k) => k !== i) },
            `took an adjustment off ${entry.name}`,
          )
        }
      />
    </div>
  ));
}

function FinishRows({ shot, entry, mattes, onDraft, onSave }: PartProps<Extract<Entry, { kind: 'finish' }>>) {
  const definition = findFinish(entry.finish);
  if (!definition) return null;
  return (
    <>
      <p className="quiet small" style={{ margin: '4px 0' }}>
        {definition.does}
      </p>
      <ParameterRows
        shot={shot}
        of={definition.title}
        table={definition.parameters}
        values={entry as unknown as Record<string, unknown>}
        mattes={mattes}
        onDraft={(change) => onDraft({ ...entry, ...change })}
        onSave={(change, words) => onSave({ ...entry, ...change }, `${words} of ${entry.name}`)}
      />
    </>
  );
}
