import { Button, InputNumber, Slider, Tooltip } from 'antd';
import { RotateCcw } from 'lucide-react';

interface Props {
  label: string;
  value: number;
  min: number;
  max: number;
  step: number;
  unit: string;
  neutral: number;
  /** While it moves. */
  onDraft: (value: number) => void;
  /** When it comes to rest. */
  onSave: (value: number) => void;
}

/** A slider with a typed field beside it and its unit. The field may go beyond the slider's ends. */
export function NumberRow({ label, value, min, max, step, unit, neutral, onDraft, onSave }: Props) {
  const commit = (text: string) => {
    const typed = Number(text);
    if (text.trim() !== '' && Number.isFinite(typed) && Math.abs(typed - value) > 1e-9) onSave(typed);
  };
  return (
    <div className="setting">
      <span>{label}</span>
      <Slider
        aria-label={label}
        ariaLabelForHandle={label}
        min={min}
        max={max}
        step={step}
        value={value}
        tooltip={{ open: false }}
        onChange={onDraft}
        onChangeComplete={onSave}
        style={{ margin: '0 6px' }}
      />
      <InputNumber
        size="small"
        aria-label={`${label}, typed`}
        className="number"
        controls={false}
        step={step}
        precision={2}
        value={value}
        style={{ width: '100%' }}
        onStep={(v) => onSave(Number(v))}
        onPressEnter={(e) => commit((e.target as HTMLInputElement).value)}
        onBlur={(e) => commit(e.target.value)}
      />
      <span className="quiet">{unit}</span>
      <Tooltip title={`Back to ${neutral}`}>
        <Button
          size="small"
          type="text"
          aria-label={`Reset ${label}`}
          icon={<RotateCcw size={12} />}
          disabled={value === neutral}
          onClick={() => onSave(neutral)}
        />
      </Tooltip>
    </div>
  );
}
