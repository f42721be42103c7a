import { Checkbox } from 'antd';
import type { ComponentProps } from 'react';
import { KeysCurve } from './KeysCurve.tsx';

/** A number's keys as a curve, straight from key to key or smooth; `shown` tells it from others beside it. */
export function KeysOf({
  label,
  shown,
  keyed,
  onSave,
  ...curve
}: ComponentProps<typeof KeysCurve> & { shown?: string }) {
  return (
    <div className="keys" title={label}>
      {shown && <span className="keys-of small">{shown}</span>}
      <KeysCurve label={label} keyed={keyed} onSave={onSave} {...curve} />
      <Checkbox
        checked={keyed.smooth === true}
        aria-label={`${label} smooth`}
        onChange={(e) => onSave({ ...keyed, smooth: e.target.checked || undefined })}
      >
        smooth
      </Checkbox>
    </div>
  );
}
