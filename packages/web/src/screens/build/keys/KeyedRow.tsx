import { valueAt, withKey, withoutKey, type Keyed } from '@june-haze/core';
import { useContext, type ComponentProps } from 'react';
import { NumberRow } from '../NumberRow.tsx';
import { FrameContext } from './frameContext.ts';
import { KeyButton } from './KeyButton.tsx';
import { KeysOf } from './KeysOf.tsx';

type Props = Omit<ComponentProps<typeof NumberRow>, 'value' | 'onDraft' | 'onSave'> & {
  value: Keyed;
  onDraft: (value: Keyed) => void;
  onSave: (value: Keyed) => void;
};

/**
 * A number that may be keyed over frames. Off until it is asked for; from then on what is moved is keyed at the frame that is seen, and its
 * keys stand below as a curve.
 */
export function KeyedRow({ value, onDraft, onSave, ...row }: Props) {
  const { frame, first, last } = useContext(FrameContext);
  const { label, fullLabel = label } = row;
  const keyed = typeof value === 'number' ? undefined : value;
  const here = keyed?.keys.some(([f]) => f === frame) ?? false;
  const at = (v: number): Keyed => (keyed ? withKey(keyed, frame, v) : v);
  const now = valueAt(value, frame);
  return (
    <>
      <NumberRow
        {...row}
        value={Number(now.toPrecision(7))}
        onDraft={(v) => onDraft(at(v))}
        onSave={(v) => onSave(at(v))}
        keying={
          <KeyButton
            label={fullLabel}
            {...{ frame, here }}
            onClick={() => onSave(here ? withoutKey(value, frame) : withKey(value, frame, now))}
          />
        }
      />
      {keyed && (
        <KeysOf
          label={fullLabel}
          range={row.range ?? [-1e9, 1e9]}
          {...{ keyed, first, last, frame, onDraft, onSave, step: row.step }}
        />
      )}
    </>
  );
}
