import { Button } from 'antd';
import { Pipette } from 'lucide-react';
import { idNames, type Parameter, type Pass } from '@june-haze/core';
import type { Shot, Source } from '@june-haze/contract';
import { useContext, useEffect, useRef, useState } from 'react';
import { PickContext, straightOf, type Picked, type PickFrom } from './picking.ts';

interface Props {
  readonly shot: Shot;
  readonly label: string;
  readonly parameter: Parameter;
  readonly value: unknown;
  /** The other values of the table: they name the pass that is picked from. */
  readonly of: Readonly<Record<string, unknown>>;
  readonly onPick: (value: unknown) => void;
}

/** Takes a parameter from where the person clicks in the picture; things and corners one after the other, until they leave it. */
export function PickButton({ shot, label, parameter, value, of, onPick }: Props) {
  const pick = useContext(PickContext);
  const [picking, setPicking] = useState(false);
  // What was picked before, and all else that changed since, is not undone by the next pick.
  const latest = useRef({ value, onPick });
  useEffect(() => {
    latest.current = { value, onPick };
  });
  const source = shot.sources.find((s) => s.id === of.source);
  const from = pickFrom(parameter, source, of);
  const take = async () => {
    if (!from) return;
    setPicking(true);
    for (;;) {
      const picked = await pick(from);
      const next = picked && valueOf(parameter, latest.current.value, picked, source);
      if (next !== undefined) latest.current.onPick(next);
      if (!picked || (parameter.type !== 'names' && parameter.type !== 'corners')) break;
    }
    setPicking(false);
  };
  return (
    <Button
      size="small"
      icon={<Pipette size={12} />}
      type={picking ? 'primary' : 'default'}
      aria-label={`Pick ${label.toLowerCase()} in the picture`}
      title={from ? 'Pick in the picture' : 'Choose a source and a pass first'}
      aria-pressed={picking}
      disabled={!from}
      onClick={() => void take()}
    />
  );
}

/** Whose numbers tell a parameter; undefined while nothing says so. */
function pickFrom({ pick }: Parameter, source: Source | undefined, of: Props['of']): PickFrom | undefined {
  if (pick === 'place' || pick === 'colour') return { kind: 'total' };
  const pass = source?.passes.find((p) => (pick === 'ids' ? isFirstRank(p, String(of.pass)) : p.name === of.pass));
  return source && pass ? { kind: 'pass', sourceId: source.id, pass: pass.name } : undefined;
}

/** The pass of a manifest's name that holds the things that cover most. */
const isFirstRank = ({ name }: Pick<Pass, 'name'>, manifest: string): boolean =>
  name.startsWith(manifest) && /^0+$/.test(name.slice(manifest.length));

/** A parameter's value with what was picked; undefined where there is nothing to take. */
function valueOf(p: Parameter, now: unknown, picked: Picked, source: Source | undefined): unknown {
  const { values, place } = picked;
  const rounded = (v: number) => Number(v.toPrecision(6));
  if (p.pick === 'colour') return straightOf(picked)?.map(rounded);
  if (p.pick === 'place') {
    const middle = [place[0] + 0.5, place[1] + 0.5];
    return p.type === 'corners' ? [...(now as readonly unknown[]), middle] : middle;
  }
  if (p.pick === 'ids') {
    const name = source && idNames(source.attributes).get(values[0]);
    if (name === undefined) return undefined;
    const names = now as readonly string[];
    return names.includes(name) ? names.filter((n) => n !== name) : [...names, name];
  }
  if (p.type === 'number') {
    const v = rounded(values[0]);
    return v >= p.range[0] && v <= p.range[1] ? v : undefined;
  }
  return values.slice(0, 3).map(rounded);
}
