import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { newShot, readPlanes, readShot } from './steps.ts';

test('multi-layer files made by the reference EXR library come through the application to the bit', async ({
  page,
  request,
}) => {
  const folder = join(process.env.JUNE_MEDIA!, 'reference');
  mkdirSync(folder, { recursive: true });
  const channels = [
    'R',
    'G',
    'B',
    'A',
    'diffuse.R',
    'diffuse.G',
    'diffuse.B',
    'specular.R',
    'specular.G',
    'specular.B',
    'Z',
  ];
  const types = channels.map((c) => (c === 'Z' ? 'float' : 'half'));
  const files = [1, 2].map((n) => join(folder, `made.000${n}.exr`));
  const jobs = files.map((file, i) => ({
    file,
    width: 70,
    height: 50,
    x: 0,
    y: 0,
    full: [0, 0, 70, 50],
    compression: 'zip',
    parts: [{ name: '', channels, types, seed: 40 + i }],
  }));
  writeFileSync(join(folder, 'jobs.json'), JSON.stringify(jobs));
  const script = join(process.cwd(), 'packages/core/test/exr/reference.py');
  execFileSync('/usr/bin/python3', [script, 'write', join(folder, 'jobs.json')]);
  const [specs] = JSON.parse(execFileSync('/usr/bin/python3', [script, 'read', ...files], { encoding: 'utf8' })) as {
    channels: string[];
  }[][];
  const want = new Float32Array(new Uint8Array(readFileSync(`${files[0]}.f32`)).buffer);

  const id = await newShot(page, 'Reference', 'reference', 'made.####.exr');
  const { sources } = await readShot(request, id);
  expect(sources[0]!.passes.map((p) => p.role).sort()).toEqual(['beauty', 'depth', 'diffuse', 'specular']);
  const order = specs![0]!.channels;
  for (const name of ['diffuse.G', 'Z']) {
    const [plane] = await readPlanes(request, { source: sources[0]!.id, frame: 1, part: 0, channels: [name] });
    const at = order.indexOf(name);
    for (let i = 0; i < 70 * 50; i++) {
      const expected = want[i * order.length + at]!;
      const got = name === 'Z' ? plane![i]! : half(plane![i]!);
      if (!Object.is(got, expected)) throw new Error(`${name} sample ${i}: ${got} is not ${expected}`);
    }
  }
});

function half(h: number): number {
  const exponent = (h >> 10) & 31;
  const sign = h & 0x8000 ? -1 : 1;
  if (exponent === 31) return h & 1023 ? NaN : sign * Infinity;
  return sign * (exponent ? (1024 + (h & 1023)) * 2 ** (exponent - 25) : (h & 1023) * 2 ** -24);
}
