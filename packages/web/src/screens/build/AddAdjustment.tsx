import { Button } from 'antd';
import { adjustments, type Adjustment } from '@june-haze/core';
import { useState } from 'react';
import { Picker, type Choice } from '../../picker/Picker.tsx';

/** Every adjustment, by its name and what it does. */
const choices: Choice[] = adjustments.map((d) => ({
  key: d.kind,
  group: 'Adjustments',
  label: d.title,
  note: d.does,
  words: d.search?.join(' ') ?? '',
}));

/** The button and the picker that adjustments are added with; each begins without effect. */
export function AddAdjustment({ onAdd }: { onAdd: (added: Adjustment[]) => void }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button size="small" onClick={() => setOpen(true)}>
        Add adjustment
      </Button>
      <Picker
        open={open}
        title="Add an adjustment"
        choices={open ? choices : []}
        actions={[
          {
            label: 'Add',
            keys: 'Enter',
            fits: (keys) => keys.length > 0,
            run: (keys) => onAdd(keys.map((kind) => ({ kind, enabled: true }) as Adjustment)),
          },
        ]}
        onClose={() => setOpen(false)}
      />
    </>
  );
}
