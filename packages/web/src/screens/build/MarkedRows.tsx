import { App, Button } from 'antd';
import { adjustmentsOf, findFinish, recipeOf, type Adjustment, type Entry, type LedgerDocument } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { AddAdjustment } from './AddAdjustment.tsx';
import { copyRows } from './copiedRows.ts';
import { changeEntries, duplicate, flatten, group } from './edit.ts';
import { newId } from './newId.ts';

interface Props {
  shot: Shot;
  document: LedgerDocument;
  marked: ReadonlySet<string>;
  onMark: (marked: ReadonlySet<string>) => void;
  onSave: (document: LedgerDocument, words: string) => void;
}

/** What can be done with several rows at once. */
export function MarkedRows({ shot, document, marked, onMark, onSave }: Props) {
  const { message } = App.useApp();
  const rows = flatten(document.entries)
    .map((r) => r.entry)
    .filter((e) => marked.has(e.id));
  if (!rows.length) return null;
  const count = rows.length === 1 ? '1 row' : `${rows.length} rows`;
  const on = rows.some((e) => e.enabled);
  const together = group(document, marked, newId);
  const takesAdjustments = rows.filter((e) => e.kind !== 'finish' || findFinish(e.finish)?.adjusts);
  const adjust = (added: Adjustment[]) =>
    onSave(
      changeEntries(
        document,
        new Set(takesAdjustments.map((e) => e.id)),
        (e) => ({ ...e, adjustments: [...adjustmentsOf(e), ...added.map((a) => ({ ...a }))] }) as Entry,
      ),
      `${added.map((a) => a.kind).join(', ')} on ${count}`,
    );
  return (
    <div className="marked" role="toolbar" aria-label="Marked rows">
      <span className="number">{rows.length}</span>
      <span className="quiet">marked</span>
      <Button
        size="small"
        onClick={() =>
          onSave(
            changeEntries(document, marked, (e) => ({ ...e, enabled: !on })),
            `switched ${count} ${on ? 'off' : 'on'}`,
          )
        }
      >
        {on ? 'Off' : 'On'}
      </Button>
      {takesAdjustments.length > 0 && <AddAdjustment onAdd={adjust} />}
      <Button size="small" onClick={() => onSave(duplicate(document, marked, newId), `duplicated ${count}`)}>
        Duplicate
      </Button>
      <Button
        size="small"
        disabled={!together}
        title={
          together
            ? 'Put together as a subtotal'
            : 'Only rows that add or take away, with nothing else between them, make a subtotal'
        }
        onClick={() => together && (onSave(together, `grouped ${count}`), onMark(new Set()))}
      >
        Group
      </Button>
      <Button
        size="small"
        onClick={() => {
          copyRows(recipeOf(document, outermost(rows), shot.sources));
          void message.success(`${count} copied: Recipes adds them here, or to another shot.`);
        }}
      >
        Copy
      </Button>
      <Button
        size="small"
        onClick={() => {
          onSave(
            changeEntries(document, marked, () => undefined),
            `took ${count} out`,
          );
          onMark(new Set());
        }}
      >
        Remove
      </Button>
      <span className="grow" />
      <Button size="small" type="text" onClick={() => onMark(new Set())}>
        None
      </Button>
    </div>
  );
}

/** Rows that are marked together with their subtotal go with it. */
function outermost(rows: readonly Entry[]): Entry[] {
  const inside = new Set(rows.flatMap((e) => (e.kind === 'subtotal' ? flatten(e.entries).map((f) => f.entry.id) : [])));
  return rows.filter((e) => !inside.has(e.id));
}
