import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import { parameterActs, type Keyed, type LookFile, type Parameter, type ParameterTable } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useShotColour } from '../../api/colour.ts';
import { LookField } from '../../colour/LookField.tsx';
import { LookFileSelect } from '../../colour/LookFileSelect.tsx';
import type { CurveChannel } from './CurveBackdrop.tsx';
import { IdNames } from './IdNames.tsx';
import { KeyedRow } from './keys/KeyedRow.tsx';
import { NumbersRow } from './keys/NumbersRow.tsx';
import { CornersRow } from './CornersRow.tsx';
import { PickButton } from './PickButton.tsx';
import { PointsRow } from './PointsRow.tsx';

type Stored = Readonly<Record<string, unknown>>;

interface Props {
  shot: Shot;
  /** What the parameters belong to: "Gain". */
  of: string;
  table: ParameterTable;
  values: Stored;
  /** Names of the document's mattes. */
  mattes: readonly string[];
  onDraft: (change: Stored) => void;
  /** `words` say which parameter it was. */
  onSave: (change: Stored, words: string) => void;
}

const channelKeys = ['red', 'green', 'blue'];

/** The default editor: a row for each parameter of a table; channels beside a master are folded until they are needed. */
export function ParameterRows(props: Props) {
  const { table, values } = props;
  const keys = Object.keys(table).filter((key) => parameterActs(table, values, key));
  const folded = channelKeys.every((k) => keys.includes(k)) && keys.length > 3;
  const used = folded && channelKeys.some((k) => values[k] !== undefined && values[k] !== table[k]!.default);
  const [opened, setOpened] = useState(false);
  const shown = folded && !used && !opened ? keys.filter((k) => !channelKeys.includes(k)) : keys;
  return (
    <>
      {shown.map((key) => (
        <ParameterRow key={key} {...props} name={key} parameter={table[key]!} />
      ))}
      {shown.length < keys.length && (
        <Button size="small" type="link" style={{ padding: 0 }} onClick={() => setOpened(true)}>
          By channel
        </Button>
      )}
    </>
  );
}

function ParameterRow({
  shot,
  of,
  name,
  parameter: p,
  values,
  mattes,
  onDraft,
  onSave,
}: Props & { name: string; parameter: Parameter }) {
  const value = values[name] ?? p.default;
  const full = p.title === 'All' ? of : `${of} ${p.title.toLowerCase()}`;
  const words = full.toLowerCase();
  const label = p.title === 'All' ? of : p.title;
  const save = (next: unknown) => onSave({ [name]: next }, words);
  const picked = p.pick && (
    <PickButton shot={shot} label={full} parameter={p} value={value} of={values} onPick={save} />
  );
  if (p.type === 'number')
    return (
      <KeyedRow
        beside={picked}
        label={label}
        fullLabel={full}
        value={value as Keyed}
        min={p.soft[0]}
        max={p.soft[1]}
        range={p.range}
        step={p.step}
        scale={p.scale}
        unit={p.unit ?? ''}
        neutral={p.default}
        onDraft={(v) => onDraft({ [name]: v })}
        onSave={save}
      />
    );
  if (p.type === 'numbers')
    return (
      <Wide label={label}>
        <div className="beside">
          {picked}
          <NumbersRow
            label={full}
            names={p.names}
            numbers={value as readonly Keyed[]}
            range={p.range}
            step={p.step}
            onDraft={(next) => onDraft({ [name]: next })}
            onSave={save}
          />
        </div>
      </Wide>
    );
  return (
    <Wide label={label}>
      {p.type === 'choice' ? (
        <Select
          size="small"
          aria-label={full}
          value={value as string}
          options={p.options.map(([v, title]) => ({ value: v, label: title }))}
          onChange={save}
        />
      ) : p.type === 'points' ? (
        <PointsRow
          label={full}
          channel={name as CurveChannel}
          points={value as readonly (readonly [number, number])[]}
          onDraft={(points) => onDraft({ [name]: points })}
          onSave={save}
        />
      ) : p.type === 'lookFile' ? (
        <LookFileSelect label={`${of} file`} value={value as LookFile | null} onChange={save} />
      ) : p.type === 'corners' ? (
        <div className="beside">
          {picked}
          <CornersRow label={full} corners={value as readonly (readonly [number, number])[]} onSave={save} />
        </div>
      ) : p.type === 'names' ? (
        <div className="beside">
          {picked}
          <IdNames shot={shot} of={values} label={full} names={value as readonly string[]} onSave={save} />
        </div>
      ) : (
        <NameChoice
          shot={shot}
          type={p.type as NameProps['type']}
          label={full}
          value={value as string | null}
          of={values}
          mattes={mattes}
          onSave={save}
        />
      )}
    </Wide>
  );
}

function Wide({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <div className="setting wide">
      <span>{label}</span>
      {children}
    </div>
  );
}

interface NameProps {
  shot: Shot;
  type: 'space' | 'display' | 'view' | 'look' | 'source' | 'pass' | 'channel' | 'matte';
  label: string;
  value: string | null;
  /** The other values, which the offered names hang on. */
  of: Stored;
  mattes: readonly string[];
  onSave: (value: string | null) => void;
}

/** A name of something that the shot has: chosen from what there is. */
function NameChoice({ shot, type, label, value, of, mattes, onSave }: NameProps) {
  const { data: colour } = useShotColour(shot.colour);
  if (type === 'look')
    return (
      <LookField
        label={label}
        value={value || null}
        names={colour?.looks().map((l) => l.name) ?? []}
        unset="none"
        onChange={onSave}
      />
    );
  const source = shot.sources.find((s) => s.id === of.source);
  const pass = source?.passes.find((p) => p.name === of.pass);
  const offered: Record<Exclude<NameProps['type'], 'look'>, readonly { value: string; label: string }[]> = {
    space: plain(colour?.spaces().map((s) => s.name)),
    display: plain(colour?.displays().map((d) => d.name)),
    view: plain(colour?.displays().find((d) => d.name === of.display)?.views),
    source: shot.sources.map((s) => ({ value: s.id, label: s.name })),
    pass: plain([...new Set(source?.passes.map((p) => p.name))]),
    channel: plain(pass?.channels.map((c) => c.component)),
    matte: plain(mattes),
  };
  const options = offered[type];
  if (!options.length && type !== 'view')
    return <Input size="small" aria-label={label} value={value ?? ''} onChange={(e) => onSave(e.target.value)} />;
  return (
    <Select
      size="small"
      showSearch
      aria-label={label}
      value={value || undefined}
      placeholder="choose"
      options={[...options]}
      onChange={onSave}
    />
  );
}

const plain = (names: readonly string[] = []) => names.map((n) => ({ value: n, label: n }));
