import { InputNumber } from 'antd';

interface Props {
  readonly id?: string;
  readonly label: string;
  readonly value: number;
  readonly onChange: (value: number) => void;
}

/** A display code, 0 … 1, typed or stepped by a hundredth. */
export function LevelField({ id, label, value, onChange }: Props) {
  return (
    <InputNumber
      {...(id ? { id } : {})}
      size="small"
      aria-label={label}
      title={label}
      min={-1}
      max={3}
      step={0.01}
      value={value}
      onChange={(v) => v !== null && onChange(v)}
    />
  );
}
