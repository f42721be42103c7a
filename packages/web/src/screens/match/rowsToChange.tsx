import { Select } from 'antd';
import type { Adjustment, Entry, LedgerDocument, LinearFit } from '@june-haze/core';
import { useState } from 'react';

/** The rows of a ledger that a measured adjustment is set on: all, until some are chosen. */
export function useRows(document: LedgerDocument) {
  const rows = document.entries.filter((e) => e.kind !== 'finish');
  const [chosen, setChosen] = useState<readonly string[]>();
  const into = (chosen ?? rows.map((e) => e.id)).filter((id) => rows.some((e) => e.id === id));
  return { rows, into, choose: setChosen };
}

interface Props extends ReturnType<typeof useRows> {
  readonly id: string;
}

/** Which rows are changed. */
export function RowsSelect({ id, rows, into, choose }: Props) {
  return (
    <Select
      id={id}
      size="small"
      mode="multiple"
      maxTagCount={2}
      value={[...into]}
      options={rows.map((e) => ({ value: e.id, label: e.name }))}
      onChange={(ids: string[]) => choose(ids)}
      placeholder="no row of the ledger"
    />
  );
}

/** A ledger whose chosen rows are changed so before all else. */
export function withAdjustments(
  document: LedgerDocument,
  ids: readonly string[],
  added: readonly Adjustment[],
): LedgerDocument {
  const changed = (entry: Entry): Entry =>
    entry.kind !== 'finish' && ids.includes(entry.id)
      ? { ...entry, adjustments: [...added, ...entry.adjustments] }
      : entry;
  return { ...document, entries: document.entries.map(changed) };
}

/** A ledger whose chosen rows go through a matrix. Rows add up: the offset, which belongs to their sum, is on the last of them. */
export function withFit(
  document: LedgerDocument,
  ids: readonly string[],
  { matrix, offset }: LinearFit,
): LedgerDocument {
  const adjustment = (own: readonly number[]) =>
    ({ enabled: true, kind: 'matrix', matrix: [...matrix], offset: [...own] }) as unknown as Adjustment;
  const others = withAdjustments(document, ids.slice(0, -1), [adjustment([0, 0, 0])]);
  return withAdjustments(others, ids.slice(-1), [adjustment(offset)]);
}
