import { useDraggable, useDroppable } from '@dnd-kit/core';
import { Switch } from 'antd';
import {
  adjustmentsOf,
  findBlend,
  findFinish,
  lookWords,
  type Entry,
  type Fault,
  type LedgerDocument,
  type OrderWarning,
} from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { memo, useEffect, useRef, type RefObject } from 'react';
import { BakedMark } from '../../colour/BakedMark.tsx';
import { ProofMark } from '../../proof/ProofMark.tsx';
import { RowPicture } from './RowPicture.tsx';
import { SmallPicture } from '../../pictures/SmallPicture.tsx';
import { thumbnailUrl } from '../../api/thumbnail.ts';
import { changeEntry, flatten, withMattes, moveEntry, type FlatEntry } from './edit.ts';
import { isMatteId } from './LedgerDrag.tsx';
import { EntryEditor } from './EntryEditor.tsx';

/** What stands before a row, and what it says: "Sun adds". */
function signOf(entry: Entry): { sign: string; verb: string } {
  if (entry.kind === 'finish') return { sign: '◌', verb: 'finishes what stands above' };
  return findBlend(entry.operation) ?? { sign: '?', verb: 'is of a kind that this version does not know' };
}

interface Props {
  shot: Shot;
  document: LedgerDocument;
  frame: number;
  shares: Readonly<Record<string, number>>;
  /** Shares of pixels that an entry's looks cut off. */
  cutOff: Readonly<Record<string, number>>;
  /** Entries that are left out of the picture, and why. */
  faults: readonly Fault[];
  /** What of the order changes the meaning. */
  warnings: readonly OrderWarning[];
  chosen: string | undefined;
  onChoose: (id: string | undefined) => void;
  /** Rows that are marked, to be changed together. */
  marked: ReadonlySet<string>;
  onMark: (marked: ReadonlySet<string>) => void;
  /** While something moves: shown, not yet kept. */
  onDraft: (document: LedgerDocument) => void;
  onSave: (document: LedgerDocument, words: string) => void;
}

/** The ledger's rows: drag by the sign to reorder, or Alt with the arrow keys on a row. */
export const LedgerList = memo(function LedgerList(props: Props) {
  const { shot, document, frame, shares, cutOff, faults, warnings, chosen, marked, onChoose, onMark, onDraft, onSave } =
    props;
  const rows = flatten(document.entries);
  // Rows are drawn anew only when they change themselves: what they need of the others, they ask for when something is done.
  const latest = useRef<Latest>({ document, rows, marked });
  useEffect(() => {
    latest.current = { document, rows, marked };
  });
  return (
    <>
      {rows.map(({ entry, depth, parent }) => (
        <Row
          key={entry.id}
          shot={shot}
          entry={entry}
          depth={depth}
          parent={parent}
          frame={frame}
          share={shares[entry.id]}
          cutOff={cutOff[entry.id]}
          fault={faults.find((f) => f.entry === entry.id)?.message}
          warning={warnings.find((w) => w.entry === entry.id)?.message}
          marked={marked.has(entry.id)}
          opened={chosen === entry.id ? document : undefined}
          document={ownPicture(entry) ? document : noDocument}
          latest={latest}
          onChoose={onChoose}
          onMark={onMark}
          onDraft={onDraft}
          onSave={onSave}
        />
      ))}
    </>
  );
});

/** For rows whose picture hangs on nothing but their pass: they are not drawn anew when others change. */
const noDocument: LedgerDocument = { version: 2, entries: [] };

interface Latest {
  readonly document: LedgerDocument;
  readonly rows: readonly FlatEntry[];
  readonly marked: ReadonlySet<string>;
}

interface RowProps extends Pick<Props, 'shot' | 'frame' | 'onChoose' | 'onMark' | 'onDraft' | 'onSave'> {
  entry: Entry;
  depth: number;
  parent: string | undefined;
  share: number | undefined;
  cutOff: number | undefined;
  fault: string | undefined;
  warning: string | undefined;
  marked: boolean;
  /** The document, when the row is opened in place. */
  opened: LedgerDocument | undefined;
  document: LedgerDocument;
  latest: RefObject<Latest>;
}

const sourceOf = (shot: Shot, { sourceId }: { sourceId: string }) =>
  shot.sources.find((s) => s.id === sourceId) ?? { id: sourceId, stamp: '' };

/** Whether a row's picture is another than that of its pass. */
const ownPicture = (e: Entry): boolean =>
  (e.kind === 'pass' && (Boolean(e.matte) || adjustmentsOf(e).some((a) => a.enabled))) ||
  e.kind === 'fill' ||
  e.kind === 'finish' ||
  (e.kind === 'subtotal' && e.entries.length > 0);

const stampOf = ({ sources, viewing, colour, workingSpace }: Shot) =>
  JSON.stringify([viewing, colour, workingSpace, sources.map((s) => s.stamp)]);

/** Without a sign where it rounds to nothing. */
const percent = (share: number) => (share * 100).toFixed(1).replace(/^-(0\.0)$/, '$1');

function about(entry: Entry): string {
  const on = adjustmentsOf(entry).filter((a) => a.enabled).length;
  const nothing = on === 0 && !entry.matte && entry.mix === 1;
  const changes = nothing ? ' · no change' : on === 0 ? '' : on === 1 ? ' · 1 adjustment' : ` · ${on} adjustments`;
  const mix = entry.mix === 1 ? '' : ` · mix ${typeof entry.mix === 'number' ? entry.mix.toFixed(2) : 'keyed'}`;
  const matte = entry.matte ? ` · where ${entry.matte}` : '';
  if (entry.kind === 'finish') return `${findFinish(entry.finish)?.title.toLowerCase() ?? entry.finish}${matte}${mix}`;
  if (entry.kind === 'subtotal') return `subtotal of ${entry.entries.length}${changes}${matte}${mix}`;
  return entry.kind === 'fill' ? `fill${changes}${matte}${mix}` : `${entry.pass}${changes}${matte}${mix}`;
}

function swapped(marked: ReadonlySet<string>, id: string): ReadonlySet<string> {
  const next = new Set(marked);
  if (!next.delete(id)) next.add(id);
  return next;
}

/** All rows from the last that was marked to this one. */
function upTo({ rows, marked }: Latest, id: string): ReadonlySet<string> {
  const at = (of: string | undefined) => rows.findIndex((r) => r.entry.id === of);
  const [from, to] = [at([...marked].at(-1) ?? id), at(id)].sort((a, b) => a - b) as [number, number];
  return new Set([...marked, ...rows.slice(Math.max(0, from), to + 1).map((r) => r.entry.id)]);
}

const Row = memo(function Row(props: RowProps) {
  const { shot, entry, depth, parent, frame, share, cutOff, fault, warning, marked, opened, document, latest } = props;
  const { onChoose, onMark, onDraft, onSave } = props;
  const { setNodeRef: setHandle, listeners, isDragging } = useDraggable({ id: entry.id });
  const { setNodeRef: setRow, isOver, active } = useDroppable({ id: entry.id });
  const open = opened !== undefined;
  const { sign, verb } = signOf(entry);
  const baked = adjustmentsOf(entry)
    .flatMap((a) => (a.enabled && 'lookFile' in a && (a.lookFile || ('look' in a && a.look)) ? [lookWords(a)] : []))
    .join(', ');
  const move = (by: -1 | 1) => {
    const { document, rows } = latest.current;
    const siblings = rows.filter((r) => r.parent === parent);
    const other = siblings[siblings.findIndex((r) => r.entry.id === entry.id) + by];
    if (other)
      onSave(moveEntry(document, entry.id, other.entry.id, by < 0 ? 'before' : 'after'), `moved ${entry.name}`);
  };
  return (
    <div ref={setRow} data-testid="ledger-row">
      <div
        className={`row${depth ? ' inner' : ''}${entry.enabled ? '' : ' off'}${open ? ' chosen' : ''}${marked ? ' marked-row' : ''}${isOver && active?.id !== entry.id ? (isMatteId(active?.id) ? ' takes' : ' over') : ''}`}
        style={{ paddingLeft: depth ? 10 + 24 * depth : undefined, opacity: isDragging ? 0.5 : 1 }}
        onKeyDown={(e) => {
          if (e.key === ' ' && e.ctrlKey) {
            e.preventDefault();
            onMark(swapped(latest.current.marked, entry.id));
          }
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
          aria-label={verb}
          title={`${entry.name} ${verb}. Drag to reorder.`}
        >
          {sign}
        </span>
        {ownPicture(entry) ? (
          <RowPicture entry={entry} document={document} stamp={stampOf(shot)} />
        ) : entry.kind === 'pass' ? (
          <SmallPicture src={thumbnailUrl(sourceOf(shot, entry), entry.pass, frame, 128, { viewing: shot.viewing })} />
        ) : (
          <span
            className="thumb"
            style={{ background: 'repeating-linear-gradient(90deg, var(--hover) 0 6px, var(--line) 6px 12px)' }}
          />
        )}
        <button
          className="plain"
          style={{ minWidth: 0, lineHeight: '16px' }}
          aria-expanded={open}
          title="Open it; with Ctrl, or Ctrl and space, mark it"
          aria-pressed={marked}
          onClick={(e) => {
            if (e.ctrlKey || e.metaKey) onMark(swapped(latest.current.marked, entry.id));
            else if (e.shiftKey) onMark(upTo(latest.current, entry.id));
            else onChoose(open ? undefined : entry.id);
          }}
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
          {share === undefined ? '' : `${percent(share)} %`}
        </span>
        <Switch
          className="switch"
          size="small"
          checked={entry.enabled}
          aria-label={`${entry.name} on`}
          onChange={(enabled) =>
            onSave(
              changeEntry(latest.current.document, entry.id, (e) => ({ ...e, enabled })),
              `${enabled ? 'switched on' : 'switched off'} ${entry.name}`,
            )
          }
        />
      </div>
      {fault && (
        <div className="problem" role="alert" style={{ paddingLeft: depth ? 10 + 24 * depth : undefined }}>
          <span />
          {fault} It is left out of the picture.
        </div>
      )}
      {warning && (
        <div className="order-warning" role="status" style={{ paddingLeft: depth ? 10 + 24 * depth : undefined }}>
          <ProofMark state="differs" />
          {warning}
        </div>
      )}
      {opened && (
        <EntryEditor
          shot={shot}
          document={opened}
          entry={entry}
          cutOff={cutOff}
          onDraft={(next, mattes) =>
            onDraft(
              withMattes(
                changeEntry(opened, entry.id, () => next),
                mattes,
              ),
            )
          }
          onSave={(next, changed, mattes) =>
            onSave(
              withMattes(
                changeEntry(opened, entry.id, () => next),
                mattes,
              ),
              changed,
            )
          }
          onRemove={() => {
            onChoose(undefined);
            onSave(
              changeEntry(opened, entry.id, () => undefined),
              `took ${entry.name} out`,
            );
          }}
        />
      )}
    </div>
  );
});
