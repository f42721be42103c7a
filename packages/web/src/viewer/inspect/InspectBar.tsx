import { Button, InputNumber, Popover, Select, Tooltip } from 'antd';
import { warningKinds, warnings, type Inspection, type InspectionKind, type WarningKind } from '@june-haze/core';
import { TriangleAlert } from 'lucide-react';
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
}

/** As what the picture's numbers are looked at, and which pixels are marked. */
export const InspectBar = memo(function InspectBar({ inspection, onInspection, warn, onWarn }: Props) {
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
        style={{ width: 118 }}
      />
      {inRange && <RangeFields range={inspection} onRange={(r) => onInspection({ kind: inspection.kind, ...r })} />}
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

function RangeFields({
  range: { near, far },
  onRange,
}: {
  range: { near: number; far: number };
  onRange: (r: { near: number; far: number }) => void;
}) {
  return (
    <>
      <Tooltip title="Shown black; greater than white turns it round">
        <InputNumber
          size="small"
          aria-label="Near, shown black"
          value={near}
          onChange={(v) => v !== null && onRange({ near: v, far })}
          style={{ width: 68 }}
        />
      </Tooltip>
      <Tooltip title="Shown white">
        <InputNumber
          size="small"
          aria-label="Far, shown white"
          value={far}
          onChange={(v) => v !== null && onRange({ near, far: v })}
          style={{ width: 68 }}
        />
      </Tooltip>
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
