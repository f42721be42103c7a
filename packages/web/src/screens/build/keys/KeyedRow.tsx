import { Button, Checkbox } from 'antd';
import { valueAt, withKey, withoutKey, type Keyed } from '@june-haze/core';
import { KeyRound } from 'lucide-react';
import { useContext, type ComponentProps } from 'react';
import { NumberRow } from '../NumberRow.tsx';
import { FrameContext } from './frameContext.ts';
import { KeysCurve } from './KeysCurve.tsx';

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
          <Button
            size="small"
            type="text"
            className="key-button"
            icon={<KeyRound size={12} />}
            aria-label={here ? `Take the key of ${fullLabel} away` : `Key ${fullLabel}`}
            aria-pressed={here}
            title={here ? `Keyed at frame ${frame}: take the key away` : `Key it at frame ${frame}`}
            onClick={() => onSave(here ? withoutKey(value, frame) : withKey(value, frame, now))}
          />
        }
      />
      {keyed && (
        <div className="keys">
          <KeysCurve
            label={fullLabel}
            range={row.range ?? [-1e9, 1e9]}
            {...{ keyed, first, last, frame, onDraft, onSave, step: row.step }}
          />
          <Checkbox
            checked={keyed.smooth === true}
            onChange={(e) => onSave({ ...keyed, smooth: e.target.checked || undefined })}
          >
            smooth
          </Checkbox>
        </div>
      )}
    </>
  );
}
