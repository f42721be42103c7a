import { InputNumber } from 'antd';
import { valueAt, withKey, withoutKey, type Keyed } from '@june-haze/core';
import { useContext } from 'react';
import { FrameContext } from './frameContext.ts';
import { KeyButton } from './KeyButton.tsx';
import { KeysOf } from './KeysOf.tsx';

interface Props {
  /** What they are, whole: "Tint colour". */
  label: string;
  names: readonly string[];
  numbers: readonly Keyed[];
  range: readonly [number, number];
  step: number;
  onDraft: (numbers: readonly Keyed[]) => void;
  onSave: (numbers: readonly Keyed[]) => void;
}

/** Numbers that belong together, a colour or a place: typed side by side and keyed together, with a curve for each that is keyed. */
export function NumbersRow({ label, names, numbers, range, step, onDraft, onSave }: Props) {
  const { frame, first, last } = useContext(FrameContext);
  const here = numbers.some((n) => typeof n !== 'number' && n.keys.some(([f]) => f === frame));
  const withOne = (i: number, next: Keyed) => numbers.map((n, k) => (k === i ? next : n));
  const typed = (i: number, v: number) => {
    const own = numbers[i]!;
    onSave(withOne(i, typeof own === 'number' ? v : withKey(own, frame, v)));
  };
  const toggle = () => onSave(numbers.map((n) => (here ? withoutKey(n, frame) : withKey(n, frame, valueAt(n, frame)))));
  return (
    <div className="numbers-keyed">
      <div className="numbers">
        {names.map((each, i) => (
          <InputNumber
            key={each}
            size="small"
            className="number"
            aria-label={`${label} ${each.toLowerCase()}`}
            controls={false}
            min={range[0]}
            max={range[1]}
            step={step}
            value={Number(valueAt(numbers[i]!, frame).toPrecision(7))}
            onChange={(v) => v !== null && typed(i, v)}
          />
        ))}
        <KeyButton label={label} {...{ frame, here }} onClick={toggle} />
      </div>
      {numbers.map((own, i) =>
        typeof own === 'number' ? null : (
          <KeysOf
            key={names[i]}
            label={`${label} ${names[i]!.toLowerCase()}`}
            shown={names[i]!.toLowerCase()}
            keyed={own}
            {...{ first, last, frame, step, range }}
            onDraft={(next) => onDraft(withOne(i, next))}
            onSave={(next) => onSave(withOne(i, next))}
          />
        ),
      )}
    </div>
  );
}
