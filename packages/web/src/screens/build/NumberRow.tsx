import { Button, InputNumber, Slider, Tooltip } from 'antd';
import { RotateCcw } from 'lucide-react';
import { memo, useCallback, useEffect, useRef, useState, type ReactNode } from 'react';
import { placeOf, rounded, valueOf, type SliderScale } from './sliderScale.ts';

interface Props {
  label: string;
  /** What the label means to who cannot see where it stands; the label itself when left out. */
  fullLabel?: string;
  value: number;
  /** The slider's ends. */
  min: number;
  max: number;
  step: number;
  unit: string;
  neutral: number;
  scale?: SliderScale;
  /** What may be typed; anything when left out. */
  range?: readonly [number, number];
  /** What stands beside its label. */
  beside?: ReactNode;
  /** What keys it, where it can be keyed. */
  keying?: ReactNode;
  /** While it moves. */
  onDraft: (value: number) => void;
  /** When it comes to rest. */
  onSave: (value: number) => void;
}

/** Places of a slider that does not run evenly. */
const places = 1000;

/** A slider with a typed field beside it and its unit. The field may go beyond the slider's ends. */
export function NumberRow(props: Props) {
  const { label, fullLabel = label, value, min, max, step, unit, neutral, scale = 'linear', range } = props;
  const { onDraft, onSave, beside, keying } = props;
  const field = useRef<HTMLDivElement>(null);
  const precision = Math.max(2, Math.ceil(-Math.log10(step) - 1e-9));
  const limited = (v: number) => (range ? Math.min(range[1], Math.max(range[0], v)) : v);
  const commit = (text: string) => {
    const typed = Number(text);
    if (text.trim() !== '' && Number.isFinite(typed) && Math.abs(typed - value) > 1e-9) onSave(limited(typed));
  };
  const latest = useRef({ onDraft, onSave });
  useEffect(() => {
    latest.current = { onDraft, onSave };
  });
  const draft = useCallback(
    (moved: number) => {
      // Written past React: while the hand moves, the page has a picture to show and nothing else to do.
      const input = field.current?.querySelector('input');
      if (input) input.value = moved.toFixed(precision);
      latest.current.onDraft(moved);
    },
    [precision],
  );
  const save = useCallback((moved: number) => latest.current.onSave(moved), []);
  return (
    <div className="setting">
      <span className={beside ? 'beside' : undefined}>
        {label}
        {beside}
      </span>
      <MovingSlider {...{ label: fullLabel, value, min, max, step, scale }} onDraft={draft} onSave={save} />
      <div ref={field}>
        <InputNumber
          size="small"
          aria-label={`${fullLabel}, typed`}
          className="number"
          controls={false}
          step={step}
          precision={precision}
          value={value}
          style={{ width: '100%' }}
          onStep={(v) => onSave(limited(Number(v)))}
          onPressEnter={(e) => commit((e.target as HTMLInputElement).value)}
          onBlur={(e) => commit(e.target.value)}
        />
      </div>
      <span className="quiet">{unit}</span>
      <Tooltip title={`Back to ${neutral}`}>
        <Button
          size="small"
          type="text"
          aria-label={`Reset ${fullLabel}`}
          icon={<RotateCcw size={12} />}
          disabled={value === neutral}
          onClick={() => onSave(neutral)}
        />
      </Tooltip>
      {keying ?? <span />}
    </div>
  );
}

interface SliderProps extends Pick<Props, 'label' | 'value' | 'min' | 'max' | 'step' | 'onDraft' | 'onSave'> {
  scale: SliderScale;
}

/** The slider alone goes with the hand; the rest of its row follows when it comes to rest. */
const MovingSlider = memo(function MovingSlider(props: SliderProps) {
  const { label, value: kept, min, max, step, scale, onDraft, onSave } = props;
  const [moving, setMoving] = useState<number>();
  const value = moving ?? kept;
  const even = scale !== 'log';
  const at = (place: number) => (even ? place : rounded(valueOf(place / places, min, max), step));
  return (
    <Slider
      aria-label={label}
      ariaLabelForHandle={label}
      min={even ? min : 0}
      max={even ? max : places}
      step={even ? step : 1}
      value={even ? value : placeOf(value, min, max) * places}
      tooltip={noTooltip}
      onChange={(place) => {
        setMoving(at(place));
        onDraft(at(place));
      }}
      onChangeComplete={(place) => {
        setMoving(undefined);
        onSave(at(place));
      }}
      style={sliderMargin}
    />
  );
});
const noTooltip = { open: false };
const sliderMargin = { margin: '0 6px' };
