import { Button } from 'antd';
import type { LedgerDocument } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { memo, useState } from 'react';
import { useCommand } from '../../commands/registry.ts';
import { Picker, type PickerAction } from '../../picker/Picker.tsx';
import { addChoices, additionOf, withAdditions } from './addChoices.tsx';

interface Props {
  shot: Shot;
  document: LedgerDocument;
  frame: number;
  onSave: (document: LedgerDocument, words: string) => void;
  onRebuild: (by: string, sourceId: string) => void;
}

/** The button and the picker that entries are added with. */
export const AddEntry = memo(function AddEntry({ shot, document, frame, onSave, onRebuild }: Props) {
  const [open, setOpen] = useState(false);
  useCommand({ name: 'Add entry', keys: 'a', run: () => setOpen(true) });
  const kinds = (keys: readonly string[]) => keys.map((k) => additionOf(k).kind);
  const add = (keys: readonly string[], again: boolean) => {
    const next = withAdditions(document, keys.map(additionOf), again, shot);
    onSave(next.document, next.words);
  };
  const actions: PickerAction[] = [
    {
      label: 'Add',
      keys: 'Enter',
      // A rebuild takes the place of everything: it goes alone.
      fits: (keys) => keys.length > 0 && (keys.length === 1 || !kinds(keys).includes('rebuild')),
      run: (keys) => {
        const first = additionOf(keys[0]!);
        if (first.kind === 'rebuild') onRebuild(first.by, first.sourceId);
        else add(keys, false);
      },
    },
    {
      label: 'Take out and put back',
      keys: 'Shift+Enter',
      fits: (keys) => keys.length > 0 && kinds(keys).every((k) => k === 'pass'),
      run: (keys) => add(keys, true),
    },
  ];
  return (
    <>
      <Button size="small" title="Add entry (A)" onClick={() => setOpen(true)}>
        Add entry
      </Button>
      <Picker
        open={open}
        title="Add to the ledger"
        choices={open ? addChoices(shot, frame) : []}
        actions={actions}
        onClose={() => setOpen(false)}
      />
    </>
  );
});
