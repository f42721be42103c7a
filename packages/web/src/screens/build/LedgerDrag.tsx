import { DndContext, DragOverlay, PointerSensor, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core';
import type { LedgerDocument } from '@june-haze/core';
import { useState, type ReactNode } from 'react';
import { changeEntry, flatten, moveEntry } from './edit.ts';

const prefix = 'matte ';

/** What a matte is called among what is dragged; rows go by their ids. */
export const matteId = (name: string): string => prefix + name;
export const isMatteId = (id: unknown): boolean => typeof id === 'string' && id.startsWith(prefix);

interface Props {
  document: LedgerDocument;
  onSave: (document: LedgerDocument, words: string) => void;
  children: ReactNode;
}

/** Where rows are dragged to another place, and mattes on rows. */
export function LedgerDrag({ document, onSave, children }: Props) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  const [carried, setCarried] = useState<string>();
  const end = ({ active, over }: DragEndEvent) => {
    setCarried(undefined);
    if (!over || active.id === over.id) return;
    const [id, target] = [String(active.id), String(over.id)];
    const rows = flatten(document.entries);
    const index = (of: string) => rows.findIndex((r) => r.entry.id === of);
    const onto = rows[index(target)]!.entry;
    if (isMatteId(id)) {
      const matte = id.slice(prefix.length);
      onSave(
        changeEntry(document, target, (e) => ({ ...e, matte })),
        `matte ${matte} on ${onto.name}`,
      );
      return;
    }
    const into = onto.kind === 'subtotal' && onto.entries.length === 0;
    onSave(
      moveEntry(document, id, target, into ? 'into' : index(id) < index(target) ? 'after' : 'before'),
      `moved ${rows[index(id)]!.entry.name}`,
    );
  };
  return (
    <DndContext
      sensors={sensors}
      onDragStart={({ active }) =>
        setCarried(isMatteId(active.id) ? String(active.id).slice(prefix.length) : undefined)
      }
      onDragCancel={() => setCarried(undefined)}
      onDragEnd={end}
    >
      {children}
      <DragOverlay dropAnimation={null}>
        {carried !== undefined && <span className="carried">{carried}</span>}
      </DragOverlay>
    </DndContext>
  );
}
