import { describe, expect, test } from '@jest/globals';
import { findMatte, mattes } from '../../src/operations/registry.ts';
import { valuesAt } from '../../src/operations/parameters.ts';

type Values = Readonly<Record<string, unknown>>;

const shapes = mattes.filter((m) => 'inPicture' in m).map((m) => m.kind);
const about: Record<string, Values> = {
  ellipse: { centre: [200, 120], radius: [80, 40], angle: 25, falloff: 30 },
  box: { centre: [200, 120], size: [80, 40], angle: -70, falloff: 30 },
  gradient: { start: [10, 20], stop: [300, 200] },
  polygon: {
    corners: [
      [10, 10],
      [90, 20],
      [50, 80],
    ],
  },
};

function heldOf(kind: string) {
  const definition = findMatte(kind)!;
  const values = valuesAt(definition.parameters, about[kind]!, 0) as never;
  return { held: definition.inPicture!, values };
}

test('all that lies in the picture by places can be held there', () => {
  expect(shapes.sort()).toEqual(['box', 'ellipse', 'gradient', 'polygon'].sort());
});

describe.each(shapes)('%s', (kind) => {
  const { held, values } = heldOf(kind);
  test('a handle goes where it is dragged to, and no other goes with it but about a centre', () => {
    for (const { id, at } of held.handles(values)) {
      const to = [at[0] + 17, at[1] + 9] as const;
      const next = { ...(values as Values), ...held.moved(values, id, to) } as never;
      const now = held.handles(next).find((h) => h.id === id)!;
      if (id === 'centre' || !Number.isNaN(Number(id)) || kind === 'gradient') {
        expect(now.at[0]).toBeCloseTo(to[0], 0);
        expect(now.at[1]).toBeCloseTo(to[1], 0);
      }
    }
  });
  test('dragged to where it is, nothing changes', () => {
    for (const { id, at } of held.handles(values)) {
      const next = { ...(values as Values), ...held.moved(values, id, at) } as never;
      held.handles(next).forEach((h, i) => {
        expect(h.at[0]).toBeCloseTo(held.handles(values)[i]!.at[0], 0);
        expect(h.at[1]).toBeCloseTo(held.handles(values)[i]!.at[1], 0);
      });
    }
  });
});

test.each(['ellipse', 'box'])('a side of a turned %s follows the hand along itself', (kind) => {
  const { held, values } = heldOf(kind);
  const across = held.handles(values).find((h) => h.id === 'across')!;
  const centre = held.handles(values).find((h) => h.id === 'centre')!.at;
  const twice = [2 * across.at[0] - centre[0], 2 * across.at[1] - centre[1]] as const;
  const change = held.moved(values, 'across', twice) as Record<string, number[]>;
  expect(Object.values(change)[0]![0]).toBeCloseTo(160, 0);
  expect(Object.values(change)[0]![1]).toBe(40);
});
