import { arctangent2 } from '../../kernel/exactPower.ts';
import { name, number, numbers } from '../parameters.ts';
import { matte } from '../matte.ts';
import { dataPlanes } from './dataPass.ts';
import { rampBetween, soft } from './ramp.ts';

const f = Math.fround;
const degree = Math.PI / 180;

export const facing = matte({
  kind: 'facing',
  title: 'Facing a direction',
  does: '1 where a surface faces a direction to within an angle, falling off over another. A normal without length is outside.',
  published: 'the cosine between two directions: geometry, no source needed',
  search: ['normal', 'direction', 'up', 'light from'],
  parameters: {
    source: name('source', 'Source'),
    pass: name('pass', 'Pass', ['normal']),
    towards: numbers('Towards', ['X', 'Y', 'Z'], [0, 1, 0], [-1, 1], 0.05, 'data'),
    angle: number('Within', 30, [0, 180], { unit: '°', step: 1, scale: 'angle' }),
    falloff: number('Falloff', 30, [0, 180], { unit: '°', step: 1, scale: 'angle' }),
    soft,
  },
  planes: (values, place) => dataPlanes(values, place, 3),
  run({ heap, n, to, planes, values }) {
    const [xs, ys, zs] = planes[0]!.map((p) => heap.floats(p, n)) as [Float32Array, Float32Array, Float32Array];
    const plane = heap.floats(to, n);
    const [tx, ty, tz] = values.towards as [number, number, number];
    const wanted = Math.sqrt(tx * tx + ty * ty + tz * tz) || 1;
    // Cosines fall as angles grow: the ramp runs over angles, found once for each cosine of a table.
    const { angle, falloff, soft: between } = values;
    const byCosine = Float32Array.from({ length: steps + 1 }, (_, i) => {
      const cosine = (2 * i) / steps - 1;
      const off = arctangent2(Math.sqrt(Math.max(0, 1 - cosine * cosine)), cosine) / degree;
      return 1 - rampBetween(off, angle, angle + falloff, between);
    });
    for (let i = 0; i < n; i++) {
      const [x, y, z] = [xs[i]!, ys[i]!, zs[i]!];
      const length = Math.sqrt(x * x + y * y + z * z);
      if (!(length > 0) || !(length < Infinity)) {
        plane[i] = 0;
        continue;
      }
      const at = ((x * tx + y * ty + z * tz) / (length * wanted) + 1) * (steps / 2);
      const first = Math.max(0, Math.min(steps - 1, Math.floor(at)));
      plane[i] = f(byCosine[first]! + (at - first) * (byCosine[first + 1]! - byCosine[first]!));
    }
  },
});

/** Cosines that are told apart. */
const steps = 4096;
