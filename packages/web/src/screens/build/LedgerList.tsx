import { DndContext, PointerSensor, useDraggable, useDroppable, useSensor, useSensors } from '@dnd-kit/core';
import { Switch } from 'antd';
import { lookWords, type Entry, type LedgerDocument, type Operation } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { BakedMark } from '../../colour/BakedMark.tsx';
import { SmallPicture } from '../../pictures/SmallPicture.tsx';
import { thumbnailUrl } from '../../api/thumbnail.ts';
import { changeEntry, flatten, moveEntry, type FlatEntry } from './edit.ts';
import { EntryEditor } from './EntryEditor.tsx';

export const signs: Record<Operation, string> = { plus: '+', minus: '−', multiply: '×', over: '◩' };
const words: Record<Operation, string> = { plus: 'adds', minus: 'takes away', multiply: 'multiplies', over: 'covers' };

interface Props {
  shot: Shot;
  document: LedgerDocument;
  frame: number;
  shares: Readonly<Record<string, number>>;
  /** Shares of pixels that an entry's looks cut off. */
  cutOff: Readonly<Record<string, number>>;
  chosen: string | undefined;
  onChoose: (id: string | undefined) => void;
  /** While something moves: shown, not yet kept. */
  onDraft: (document: LedgerDocument) => void;
  onSave: (document: LedgerDocument, words: string) => void;
}

/** The ledger's rows: drag by the sign to reorder, or Alt with the arrow keys on a row. */
export function LedgerList(props: Props) {
  const { document, onSave } = props;
  const rows = flatten(document.entries);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  const index = (id: string) => rows.findIndex((r) => r.entry.id === id);
  return (
    <DndContext
      sensors={sensors}
      onDragEnd={({ active, over }) => {
        if (!over || active.id === over.id) return;
        const [id, target] = [String(active.id), String(over.id)];
        const onto = rows[index(target)]!.entry;
        const into = onto.kind === 'subtotal' && onto.entries.length === 0;
        onSave(
          moveEntry(document, id, target, into ? 'into' : index(id) < index(target) ? 'after' : 'before'),
          `moved ${rows[index(id)]!.entry.name}`,
        );
      }}
    >
      {rows.map((row) => (
        <Row key={row.entry.id} row={row} rows={rows} {...props} />
      ))}
    </DndContext>
  );
}

const sourceOf = (shot: Shot, { sourceId }: { sourceId: string }) =>
  shot.sources.find((s) => s.id === sourceId) ?? { id: sourceId, stamp: '' };

function about(entry: Entry): string {
  const on = entry.adjustments.filter((a) => a.enabled).length;
  const changes = on === 0 ? 'no change' : on === 1 ? '1 adjustment' : `${on} adjustments`;
  const mix = entry.mix === 1 ? '' : ` · mix ${entry.mix.toFixed(2)}`;
  if (entry.kind === 'subtotal') return `subtotal of ${entry.entries.length} · ${changes}${mix}`;
  return entry.kind === 'fill' ? `fill · ${changes}${mix}` : `${entry.pass} · ${changes}${mix}`;
}

function Row({
  row,
  rows,
  shot,
  document,
  frame,
  shares,
  cutOff,
  chosen,
  onChoose,
  onDraft,
  onSave,
}: Props & { row: FlatEntry; rows: FlatEntry[] }) {
  const { entry, depth } = row;
  const { setNodeRef: setHandle, listeners, isDragging } = useDraggable({ id: entry.id });
  const { setNodeRef: setRow, isOver, active } = useDroppable({ id: entry.id });
  const share = shares[entry.id];
  const open = chosen === entry.id;
  const baked = entry.adjustments
    .flatMap((a) => (a.kind === 'look' && a.enabled && (a.look || a.lookFile) ? [lookWords(a)] : []))
    .join(', ');
  const move = (by: -1 | 1) => {
    const siblings = rows.filter((r) => r.parent === row.parent);
    const other = siblings[siblings.findIndex((r) => r.entry.id === entry.id) + by];
    if (other)
      onSave(moveEntry(document, entry.id, other.entry.id, by < 0 ? 'before' : 'after'), `moved ${entry.name}`);
  };
  return (
    <div ref={setRow} data-testid="ledger-row">
      <div
        className={`row${depth ? ' inner' : ''}${entry.enabled ? '' : ' off'}${open ? ' chosen' : ''}${isOver && active?.id !== entry.id ? ' over' : ''}`}
        style={{ paddingLeft: depth ? 10 + 24 * depth : undefined, opacity: isDragging ? 0.5 : 1 }}
        onKeyDown={(e) => {
          if (!e.altKey || (e.key !== 'ArrowUp' && e.key !== 'ArrowDown')) return;
          e.preventDefault();
          move(e.key === 'ArrowUp' ? -1 : 1);
        }}
      >
        <span
          ref={setHandle}
          {...listeners}
          className="sign"
          role="img"
          aria-label={words[entry.operation]}
          title={`${entry.name} ${words[entry.operation]}. Drag to reorder.`}
        >
          {signs[entry.operation]}
        </span>
        {entry.kind === 'pass' ? (
          <SmallPicture src={thumbnailUrl(sourceOf(shot, entry), entry.pass, frame, 128, { viewing: shot.viewing })} />
        ) : (
          <span
            className="thumb"
            style={
              entry.kind === 'subtotal'
                ? { background: 'repeating-linear-gradient(90deg, var(--hover) 0 6px, var(--line) 6px 12px)' }
                : { background: 'var(--mark)' }
            }
          />
        )}
        <button
          className="plain"
          style={{ minWidth: 0, lineHeight: '16px' }}
          aria-expanded={open}
          onClick={() => onChoose(open ? undefined : entry.id)}
        >
          <div className="named">
            <span className={`clip${entry.kind === 'subtotal' ? ' strong' : ''}`}>{entry.name}</span>
            {baked && <BakedMark words={baked} brief />}
          </div>
          <div className="quiet small clip">{about(entry)}</div>
        </button>
        <div className="share" aria-hidden="true">
          <i style={{ width: `${Math.min(100, Math.abs(share ?? 0) * 100)}%` }} />
        </div>
        <span className="number" style={{ textAlign: 'right' }} title="Share of the total’s luminance">
          {share === undefined ? '' : `${(share * 100).toFixed(1)} %`}
        </span>
        <Switch
          className="switch"
          size="small"
          checked={entry.enabled}
          aria-label={`${entry.name} on`}
          onChange={(enabled) =>
            onSave(
              changeEntry(document, entry.id, (e) => ({ ...e, enabled })),
              `${enabled ? 'switched on' : 'switched off'} ${entry.name}`,
            )
          }
        />
      </div>
      {open && (
        <EntryEditor
          shot={shot}
          entry={entry}
          cutOff={cutOff[entry.id]}
          onDraft={(next) => onDraft(changeEntry(document, entry.id, () => next))}
          onSave={(next, changed) =>
            onSave(
              changeEntry(document, entry.id, () => next),
              changed,
            )
          }
          onRemove={() => {
            onChoose(undefined);
            onSave(
              changeEntry(document, entry.id, () => undefined),
              `took ${entry.name} out`,
            );
          }}
        />
      )}
    </div>
  );
}
