import { passRow, rebuildLedger, type Entry, type LedgerDocument, type Matte, type PassEntry } from '@june-haze/core';
import type { Source } from '@june-haze/contract';
import { randomUUID } from 'node:crypto';

// What somebody before made of the demo's smaller shots. Invented, as all of the demo.

type Change = Readonly<Record<string, unknown>>;

const finish = (name: string, kind: string, more: Change): Entry =>
  ({ id: randomUUID(), name, kind: 'finish', finish: kind, enabled: true, mix: 1, ...more }) as unknown as Entry;

function row(source: Source, pass: string, more: Change): Entry {
  const found = source.passes.find((p) => p.name === pass);
  return { ...passRow(randomUUID(), source.id, found ?? { name: pass, role: 'other' }), ...more } as PassEntry;
}

const adjustment = (kind: string, more: Change): Change => ({ kind, enabled: true, ...more });

/** Whether a source has passes of these names. */
const has = (source: Source | undefined, ...names: string[]): source is Source =>
  source !== undefined && names.every((n) => source.passes.some((p) => p.name === n));

/** Kettle: its components, the lanterns taken out and put back warmer and weaker, the sky of the plate behind, a soft glow and grain. */
function kettle(sources: readonly Source[]): LedgerDocument | undefined {
  const render = sources.find((s) => s.passes.length > 3);
  const plate = sources.find((s) => s !== render);
  if (!plate || !has(render, 'light_lanterns', 'depth', 'crypto_object00')) return undefined;
  const built = rebuildLedger(render, 'components', randomUUID);
  if (!built) return undefined;
  const mattes = {
    'copper and crates': {
      kind: 'ids',
      source: render.id,
      pass: 'crypto_object',
      names: ['kettle', 'crate green', 'crate ochre', 'crate rust'],
    },
  } as unknown as Record<string, Matte>;
  return {
    ...built,
    version: 2,
    mattes,
    entries: [
      ...built.entries,
      row(render, 'light_lanterns', { name: 'Lanterns out', operation: 'minus' }),
      row(render, 'light_lanterns', {
        name: 'Lanterns back',
        note: 'Two thirds of a stop weaker and warmer: they stole the kettle’s show.',
        adjustments: [adjustment('exposure', { stops: -0.66 }), adjustment('tint', { colour: [1.12, 1, 0.8] })],
      }),
      row(plate, plate.passes[0]!.name, {
        name: 'Morning sky',
        operation: 'under',
        adjustments: [adjustment('exposure', { stops: -1 })],
      }),
      finish('Richer copper', 'grade', {
        matte: 'copper and crates',
        adjustments: [adjustment('saturation', { amount: 1.15 })],
      }),
      finish('Glow', 'glow', { amount: 0.12, size: 10, threshold: 1.5, saturation: 0.6 }),
      finish('Grain', 'grain', { amount: 0.04 }),
    ],
  };
}

/** Last boat: the beauty over the sky plate, the far water quieter, the sun’s rim going down, lamps with a glare, edges darkened. */
function lastBoat(sources: readonly Source[]): LedgerDocument | undefined {
  const render = sources.find((s) => s.passes.length > 3);
  const sky = sources.find((s) => s.name.startsWith('sky'));
  if (!sky || !has(render, 'beauty', 'position', 'specular_direct')) return undefined;
  const whole = { sourceId: render.id, pass: 'beauty' };
  // Depth runs the other way round in this render: places in the world do not.
  const near = { kind: 'position', source: render.id, pass: 'position', shape: 'sphere', size: [9, 9, 9], falloff: 14 };
  return {
    version: 2,
    alphaFrom: whole,
    balanceAgainst: whole,
    mattes: { 'near things': near, 'far water': { kind: 'invert', of: 'near things' } } as unknown as Record<
      string,
      Matte
    >,
    entries: [
      row(render, 'beauty', { name: 'Beauty' }),
      row(render, 'specular_direct', { name: 'Sun’s rim out', operation: 'minus' }),
      row(render, 'specular_direct', {
        name: 'Sun’s rim back',
        note: 'It goes down with the sun over the shot.',
        mix: {
          keys: [
            [1001, 1],
            [1012, 0.25],
          ],
          smooth: true,
        },
      }),
      row(sky, sky.passes[0]!.name, {
        name: 'Evening sky',
        operation: 'under',
        adjustments: [adjustment('exposure', { stops: -1.2 })],
      }),
      finish('Far water, less colour', 'grade', {
        matte: 'far water',
        adjustments: [adjustment('saturation', { amount: 0.5 }), adjustment('exposure', { stops: -0.3 })],
      }),
      finish('Lamps', 'glare', { amount: 0.06, length: 40, threshold: 3, streaks: 6, saturation: 0.7 }),
      finish('Vignette', 'vignette', { stops: -0.4 }),
      finish('Grain', 'grain', { amount: 0.05 }),
    ],
  };
}

/** What was made of a demo shot's sources; undefined where they are not what it was made of. */
export function demoLedger(shot: string, sources: readonly Source[]): LedgerDocument | undefined {
  if (shot === 'Kettle') return kettle(sources);
  return shot === 'Last boat' ? lastBoat(sources) : undefined;
}
