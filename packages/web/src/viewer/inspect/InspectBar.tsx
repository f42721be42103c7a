import { Button, InputNumber, Popover, Select, Tooltip } from 'antd';
import { warningKinds, warnings, type Inspection, type InspectionKind, type WarningKind } from '@june-haze/core';
import { Pipette, TriangleAlert } from 'lucide-react';
import { memo } from 'react';
import { useCommand } from '../../commands/registry.ts';

interface Way {
  readonly value: InspectionKind;
  readonly label: string;
  readonly keys?: string;
}

const ways: readonly Way[] = [
  { value: 'colour', label: 'Colour', keys: 'alt+c' },
  { value: 'red', label: 'Red alone', keys: 'alt+r' },
  { value: 'green', label: 'Green alone', keys: 'alt+g' },
  { value: 'blue', label: 'Blue alone', keys: 'alt+b' },
  { value: 'luminance', label: 'Luminance', keys: 'alt+y' },
  { value: 'alpha', label: 'Alpha', keys: 'alt+a' },
  { value: 'stops', label: 'Stops from grey', keys: 'alt+s' },
  { value: 'range', label: 'In a range', keys: 'alt+d' },
  { value: 'vectors', label: 'As vectors', keys: 'alt+v' },
  { value: 'ids', label: 'IDs', keys: 'alt+i' },
];

interface Props {
  readonly inspection: Inspection;
  readonly onInspection: (inspection: Inspection) => void;
  readonly warn: readonly WarningKind[];
  readonly onWarn: (kinds: readonly WarningKind[]) => void;
  /** The number where the person clicks next; undefined when they leave it. */
  readonly onPick: () => Promise<number | undefined>;
}

/** As what the picture's numbers are looked at, and which pixels are marked. */
export const InspectBar = memo(function InspectBar({ inspection, onInspection, warn, onWarn, onPick }: Props) {
  const inRange = inspection.kind === 'range' || inspection.kind === 'vectors';
  const look = (kind: InspectionKind) => onInspection(inspectionOf(kind, inspection));
  const all = () => onWarn(warn.length ? [] : [...warningKinds]);
  useCommand({ name: 'Mark warnings, or none', keys: 'z', run: all });
  return (
    <>
      {ways.map((w) => (
        <LookCommand key={w.value} way={w} run={look} />
      ))}
      <Select<InspectionKind>
        size="small"
        aria-label="Look at"
        value={inspection.kind}
        onChange={look}
        popupMatchSelectWidth={false}
        options={ways.map(({ value, label }) => ({ value, label }))}
        style={{ width: 132 }}
      />
      {inRange && (
        <RangeFields
          range={inspection}
          onPick={onPick}
          onRange={(r) => onInspection({ kind: inspection.kind, ...r })}
        />
      )}
      <Popover
        trigger="click"
        placement="bottomRight"
        title="Pixels that are marked"
        content={<WarningList warn={warn} onWarn={onWarn} />}
      >
        <Tooltip title="Mark pixels below 0, above 1, not finite, cut off (Z)">
          <Button size="small" aria-label="Warnings" aria-pressed={warn.length > 0} icon={<TriangleAlert size={12} />}>
            {warn.length > 0 && <span className="number">{warn.length}</span>}
          </Button>
        </Tooltip>
      </Popover>
    </>
  );
});

function LookCommand({ way: { value, label, keys }, run }: { way: Way; run: (kind: InspectionKind) => void }) {
  useCommand({ name: `Look at: ${label.toLowerCase()}`, ...(keys ? { keys } : {}), run: () => run(value) });
  return null;
}

/** Another way with what it needs, kept from before where it is the same. */
export function inspectionOf(kind: InspectionKind, before: Inspection): Inspection {
  if (kind !== 'range' && kind !== 'vectors') return { kind };
  if (before.kind === 'range' || before.kind === 'vectors') return { ...before, kind };
  return { kind, near: kind === 'vectors' ? -1 : 0, far: 1 };
}

interface RangeProps {
  readonly range: { readonly near: number; readonly far: number };
  readonly onRange: (range: { near: number; far: number }) => void;
  readonly onPick: Props['onPick'];
}

/** The ends of a range: typed, or picked in the picture. Near greater than far turns it round. */
function RangeFields({ range, onRange, onPick }: RangeProps) {
  const end = (which: 'near' | 'far', title: string) => {
    const set = (v: number) => onRange({ ...range, [which]: v });
    const pick = () =>
      void onPick()
        .then((v) => v !== undefined && Number.isFinite(v) && set(Number(v.toPrecision(6))))
        // What cannot be read is told by the picture.
        .catch(() => undefined);
    return (
      <>
        <InputNumber
          size="small"
          aria-label={title}
          title={title}
          value={range[which]}
          onChange={(v) => v !== null && set(v)}
          controls={false}
          style={{ width: 60 }}
        />
        <Button
          size="small"
          aria-label={`Pick ${title.toLowerCase()}`}
          title={`${title}: pick it in the picture`}
          icon={<Pipette size={11} />}
          onClick={pick}
        />
      </>
    );
  };
  return (
    <>
      {end('near', 'Near, shown black')}
      {end('far', 'Far, shown white')}
    </>
  );
}

function WarningList({ warn, onWarn }: Pick<Props, 'warn' | 'onWarn'>) {
  return (
    <div className="warnings">
      {warningKinds.map((kind) => {
        const { title, says, colour } = warnings[kind];
        const on = warn.includes(kind);
        return (
          <label key={kind}>
            <input
              type="checkbox"
              checked={on}
              onChange={() => onWarn(on ? warn.filter((w) => w !== kind) : [...warn, kind])}
            />
            <i style={{ background: `rgb(${colour.join()})` }} aria-hidden />
            <span className="strong">{title}</span>
            <span className="quiet small">{says}</span>
          </label>
        );
      })}
    </div>
  );
}

export const shareWords = (share: number): string =>
  share === 0 ? 'none' : share < 0.0001 ? '< 0.01 %' : `${(share * 100).toFixed(2)} %`;
