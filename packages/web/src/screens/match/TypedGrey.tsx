import { InputNumber } from 'antd';
import type { Vector3 } from '@june-haze/core';

const channels = ['Red', 'Green', 'Blue'] as const;

interface Props {
  readonly value: Vector3;
  readonly onChange: (value: Vector3) => void;
  /** The space of the numbers. */
  readonly space: string;
}

/** A grey's numbers as they are known from elsewhere: read in another program, or off another frame. */
export function TypedGrey({ value, onChange, space }: Props) {
  return (
    <div className="inside typed-grey">
      {channels.map((name, c) => (
        <InputNumber
          key={name}
          size="small"
          aria-label={`${name} of the grey`}
          prefix={name[0]}
          value={value[c]!}
          min={0}
          max={1000}
          step={0.01}
          controls={false}
          onChange={(v) => v !== null && onChange(value.map((old, i) => (i === c ? v : old)) as unknown as Vector3)}
        />
      ))}
      <span className="quiet">in {space}</span>
    </div>
  );
}
