import type { LedgerDocument, ShotColour } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { Picker, type PickerAction } from '../picker/Picker.tsx';
import { sightChoices } from './sightChoices.tsx';
import type { SightChoice } from './sights.ts';

interface Props {
  readonly open: boolean;
  readonly shot: Shot;
  readonly document: LedgerDocument;
  readonly colour: ShotColour | undefined;
  readonly frame: number;
  readonly first: SightChoice;
  readonly onFirst: (choice: SightChoice) => void;
  readonly onSecond: (choice: SightChoice) => void;
  readonly onClose: () => void;
}

/** Chooses what is looked at, or what it is compared with. */
export function SightPicker({ open, shot, document, colour, frame, first, onFirst, onSecond, onClose }: Props) {
  const one = (run: (choice: SightChoice) => void) => (keys: readonly string[]) =>
    run(JSON.parse(keys[0]!) as SightChoice);
  const fits = (keys: readonly string[]) => keys.length === 1;
  const actions: PickerAction[] = [
    { label: 'Compare with', keys: 'Enter', fits, run: one(onSecond) },
    { label: 'Look at', keys: 'Shift+Enter', fits, run: one(onFirst) },
  ];
  return (
    <Picker
      open={open}
      title="Look at, or compare with"
      choices={open ? sightChoices({ shot, document, colour, frame, first }) : []}
      actions={actions}
      one
      onClose={onClose}
    />
  );
}
