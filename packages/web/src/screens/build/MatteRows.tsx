import { Button, Select } from 'antd';
import { findMatte, freeMatteName, mattes as definitions, type LedgerDocument, type Matte } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { ParameterRows } from './ParameterRows.tsx';
import { startingValues } from './startingValues.ts';

interface Props {
  shot: Shot;
  document: LedgerDocument;
  /** The matte that is used here. */
  value: string | null | undefined;
  /** Whose it is: "Sun". */
  of: string;
  /** Uses another, together with a change of the document's mattes where there is one. */
  onUse: (name: string | null, mattes: LedgerDocument['mattes'], words: string) => void;
  onDraft: (mattes: LedgerDocument['mattes']) => void;
  onSave: (mattes: LedgerDocument['mattes'], words: string) => void;
}

/** Which matte limits a row, and that matte's own parameters: all rows that use it share them. */
export function MatteRows({ shot, document, value, of, onUse, onDraft, onSave }: Props) {
  const mattes = document.mattes ?? {};
  const names = Object.keys(mattes);
  const used = value ? mattes[value] : undefined;
  const definition = used && findMatte(used.kind);
  const choose = (picked: string) => {
    if (!picked.startsWith('new ')) {
      onUse(picked || null, undefined, `matte of ${of}`);
      return;
    }
    const kind = picked.slice(4) as Matte['kind'];
    const name = freeMatteName(document, kind);
    const started = startingValues(findMatte(kind)!.parameters, shot);
    onUse(name, { ...mattes, [name]: { kind, ...started } as Matte }, `${kind} matte on ${of}`);
  };
  const changed = (change: object) => ({ ...mattes, [value!]: { ...used, ...change } as Matte });
  return (
    <>
      <div className="setting wide">
        <span>Matte</span>
        <Select
          size="small"
          aria-label={`Matte of ${of}`}
          value={value ?? ''}
          options={[
            { value: '', label: 'none: acts everywhere' },
            ...names.map((n) => ({ value: n, label: `${n} (${mattes[n]!.kind})` })),
            ...definitions.map((d) => ({ value: `new ${d.kind}`, label: `New: ${d.title}` })),
          ]}
          onChange={choose}
        />
      </div>
      {value && !used && (
        <p className="small" role="alert">
          There is no matte “{value}” any more.{' '}
          <Button size="small" type="link" onClick={() => choose('')}>
            Take it off
          </Button>
        </p>
      )}
      {definition && value && (
        <div className="matte-rows">
          <ParameterRows
            shot={shot}
            of={`Matte ${value}`}
            table={definition.parameters}
            values={used as unknown as Record<string, unknown>}
            mattes={names.filter((n) => n !== value)}
            onDraft={(change) => onDraft(changed(change))}
            onSave={(change, words) => onSave(changed(change), words)}
          />
        </div>
      )}
    </>
  );
}
