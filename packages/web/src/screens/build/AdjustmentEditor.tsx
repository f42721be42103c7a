import { Button, Select, Switch } from 'antd';
import { findAdjustment, lookWords, type Adjustment, type LedgerDocument } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useShotColour } from '../../api/colour.ts';
import { BakedMark } from '../../colour/BakedMark.tsx';
import type { AtAdjustment } from './atAdjustment.ts';
import { CdlFileRow } from './CdlFileRow.tsx';
import { LevelsPlot } from './LevelsPlot.tsx';
import { ParameterRows } from './ParameterRows.tsx';
import { PickRow } from './PickRow.tsx';
import { WithIncoming } from './WithIncoming.tsx';

interface Props {
  shot: Shot;
  adjustment: Adjustment;
  document: LedgerDocument;
  /** Whose it is, and which of them. */
  at: AtAdjustment;
  onDraft: (next: Adjustment) => void;
  /** Keeps a change; `words` say what of the adjustment it was. */
  onSave: (next: Adjustment, words: string) => void;
  onRemove: () => void;
}

/** One adjustment of an entry: on or off, the space and the matte that it works in, its parameters, and a way to take it off. */
export function AdjustmentEditor({ shot, adjustment: a, document, at, onDraft, onSave, onRemove }: Props) {
  const definition = findAdjustment(a.kind);
  const mattes = Object.keys(document.mattes ?? {});
  const space = a.space ?? definition?.usualSpace ?? shot.workingSpace;
  const rows = definition && (
    <ParameterRows
      shot={shot}
      of={definition.title}
      table={definition.parameters}
      values={a as unknown as Record<string, unknown>}
      mattes={mattes}
      onDraft={(change) => onDraft({ ...a, ...change } as Adjustment)}
      onSave={(change, words) => onSave({ ...a, ...change } as Adjustment, words)}
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
        <span className="strong" title={definition?.does}>
          {definition?.title ?? a.kind}
        </span>
        {a.kind === 'look' || a.kind === 'lut' ? (
          <BakedMark words={lookWords(a)} />
        ) : definition?.choosesSpace ? (
          <SpaceChoice
            shot={shot}
            label={`${definition.title} works in`}
            value={space}
            onSave={(space) => onSave({ ...a, space }, `space of ${a.kind}`)}
          />
        ) : null}
        {mattes.length > 0 && (
          <Select
            size="small"
            variant="borderless"
            aria-label={`Matte of ${definition?.title ?? a.kind}`}
            value={a.matte ?? ''}
            options={[{ value: '', label: 'everywhere' }, ...mattes.map((m) => ({ value: m, label: `where ${m}` }))]}
            onChange={(matte) => onSave({ ...a, matte: matte || null }, `matte of ${a.kind}`)}
          />
        )}
        <span className="grow" />
        <Button size="small" type="text" onClick={onRemove}>
          Remove
        </Button>
      </div>
      {a.kind === 'cdl' && (
        <CdlFileRow adjustment={a} onSave={(change, words) => onSave({ ...a, ...change } as Adjustment, words)} />
      )}
      {a.kind === 'whiteBalance' && (
        <PickRow
          shot={shot}
          from={{ kind: 'incoming', entry: at.entry, adjustment: at.index }}
          space={space}
          words="Pick what shall be grey in the picture"
          onPick={(picked) => onSave({ ...a, picked } as Adjustment, 'picked colour')}
        />
      )}
      {a.kind === 'tint' && (
        <PickRow
          shot={shot}
          from={{ kind: 'total' }}
          space={space}
          words="Pick the tint in the picture"
          onPick={(picked) => onSave({ ...a, colour: asBright(picked) } as Adjustment, 'picked tint')}
        />
      )}
      {a.kind === 'curves' || a.kind === 'levels' ? (
        <WithIncoming {...{ shot, document, at, space }}>
          {a.kind === 'levels' && (
            <LevelsPlot
              levels={a as unknown as Record<string, unknown>}
              onDraft={(change) => onDraft({ ...a, ...change } as Adjustment)}
              onSave={(change, words) => onSave({ ...a, ...change } as Adjustment, words)}
            />
          )}
          {rows}
        </WithIncoming>
      ) : (
        rows
      )}
    </div>
  );
}

/** A colour as a tint that leaves its brightest channel as bright as it was: a filter only takes away. */
function asBright(colour: readonly [number, number, number]): readonly number[] {
  const most = Math.max(...colour);
  return most > 0 ? colour.map((v) => Number((v / most).toPrecision(4))) : [1, 1, 1];
}

interface SpaceProps {
  shot: Shot;
  label: string;
  value: string;
  onSave: (space: string | null) => void;
}

function SpaceChoice({ shot, label, value, onSave }: SpaceProps) {
  const { data: colour } = useShotColour(shot.colour);
  const names = (colour?.spaces() ?? []).filter((s) => !s.isData).map((s) => s.name);
  const offered = names.includes(value) ? names : [value, ...names];
  return (
    <Select
      size="small"
      variant="borderless"
      className="quiet"
      showSearch
      popupMatchSelectWidth={240}
      aria-label={label}
      value={value}
      options={offered.map((n) => ({ value: n, label: `in ${n}` }))}
      onChange={(next) => onSave(next === shot.workingSpace ? null : next)}
    />
  );
}
