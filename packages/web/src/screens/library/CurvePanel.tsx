import { Select } from 'antd';
import { useMemo, useState } from 'react';
import type { LibraryItem } from '@june-haze/contract';
import { CurveChart } from './CurveChart.tsx';
import { curveOf, largestDifference, type Axis, type Curve } from './curve.ts';
import { firstChoice, nameOfChoice, stepsOfChoice, type Choice, type Opened } from './transforms.ts';
import { TransformPicker } from './TransformPicker.tsx';
import { useOpened } from './useOpened.ts';

function draw(opened: Opened | undefined, choice: Choice | undefined): { curve?: Curve; axis: Axis; problem?: string } {
  if (!opened || !choice) return { axis: 'codes' };
  try {
    const { steps, axis } = stepsOfChoice(opened, choice);
    return { curve: curveOf(steps, axis), axis };
  } catch (error) {
    return { axis: 'codes', problem: (error as Error).message };
  }
}

/** A transform's curve, and beside it another's with the difference. */
export function CurvePanel({ opened, items }: { opened: Opened; items: readonly LibraryItem[] }) {
  const [choice, setChoice] = useState<Choice>(() => firstChoice(opened));
  const [otherId, setOtherId] = useState<string>('');
  const [otherChoice, setOtherChoice] = useState<Choice>();
  const otherItem = items.find((i) => i.id === otherId);
  const { data: other, error } = useOpened(otherItem);
  const theirs = useMemo(() => otherChoice ?? (other && firstChoice(other)), [other, otherChoice]);
  const mine = useMemo(() => draw(opened, choice), [opened, choice]);
  const drawn = useMemo(() => draw(otherItem ? other : undefined, theirs), [otherItem, other, theirs]);
  const comparable = drawn.curve && drawn.axis === mine.axis ? drawn.curve : undefined;
  const apart = mine.curve && comparable ? largestDifference(mine.curve, comparable) : undefined;
  const problem = mine.problem ?? drawn.problem ?? error?.message;
  return (
    <section className="curves" aria-label="Curves">
      <div className="pickers">
        <TransformPicker opened={opened} choice={choice} onChange={setChoice} label="This" />
        <div className="chooser">
          <span className="quiet">compared with</span>
          <Select
            size="small"
            aria-label="Compare with"
            value={otherId}
            style={{ minWidth: 130 }}
            popupMatchSelectWidth={false}
            options={[
              { value: '', label: 'nothing' },
              ...items.map((i) => ({ value: i.id, label: i.id === opened.item.id ? `${i.name} itself` : i.name })),
            ]}
            onChange={(id) => {
              setOtherId(id);
              setOtherChoice(undefined);
            }}
          />
        </div>
        {other && theirs && otherItem && (
          <TransformPicker opened={other} choice={theirs} onChange={setOtherChoice} label="Other" />
        )}
      </div>
      {problem && <p className="problem">{problem}</p>}
      {mine.curve && (
        <CurveChart
          title={`Grey ramp: ${nameOfChoice(opened, choice)}`}
          axis={mine.axis}
          curve={mine.curve}
          other={comparable}
          height={comparable ? 210 : 290}
        />
      )}
      {drawn.curve && !comparable && (
        <p className="quiet">One begins in light, the other in codes: their curves have no axis in common.</p>
      )}
      {mine.curve && comparable && apart && other && theirs && (
        <>
          <p className="small">
            <span className="strong">Other minus this</span>{' '}
            <span className="quiet">{nameOfChoice(other, theirs)}; largest difference </span>
            <span className="number" data-testid="largest-difference">
              {apart.by.toFixed(4)}
            </span>{' '}
            <span className="quiet">
              ({(apart.by * 255).toFixed(1)} of 255 codes) at {apart.at.toFixed(2)}
              {mine.axis === 'stops' ? ' stops' : ''}
            </span>
          </p>
          <CurveChart
            title="Difference of the two"
            axis={mine.axis}
            curve={mine.curve}
            other={comparable}
            difference
            height={150}
          />
        </>
      )}
    </section>
  );
}
