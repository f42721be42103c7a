import { expect, test } from '@jest/globals';
import { headerBytes, PlanesReader, type PlanesHeader } from '../src/index.ts';

const size = { width: 3, height: 2 };
const header: PlanesHeader = {
  ...size,
  types: ['half', 'float', 'uint'],
  missing: [],
  file: 'landing.1001.exr – deck',
  size,
  data: { x: 0, y: 0, ...size },
};
const planes = [
  Uint16Array.of(1, 2, 3, 4, 5, 65535),
  Float32Array.of(0.5, -1, Infinity, 0, 1e-30, 7),
  Uint32Array.of(0, 1, 2, 3, 4, 4294967295),
];
const refused: PlanesHeader = { error: 'landing.1002.exr: frame 1002 is missing.', status: 404 };
const bytes = Uint8Array.from(
  [headerBytes(header), ...planes.map((p) => new Uint8Array(p.buffer)), headerBytes(refused), headerBytes(header)]
    .concat(planes.map((p) => new Uint8Array(p.buffer)))
    .flatMap((b) => [...b]),
);

test.each([1, 3, 7, 64, 100000])('an answer that comes in pieces of %i is read as it was written', (piece) => {
  const allocated: number[] = [];
  const reader = new PlanesReader((n) => {
    allocated.push(n);
    return new SharedArrayBuffer(n);
  });
  for (let at = 0; at < bytes.length; at += piece) reader.add(bytes.subarray(at, at + piece));
  const answers = reader.end();
  expect(answers.map((a) => a.header)).toEqual([header, refused, header]);
  expect(answers[0]!.planes.map((p) => [...p])).toEqual(planes.map((p) => [...p]));
  expect(answers[1]!.planes).toEqual([]);
  expect(answers[2]!.planes.map((p) => p.constructor.name)).toEqual(['Uint16Array', 'Float32Array', 'Uint32Array']);
  expect(allocated).toEqual([12, 24, 24, 12, 24, 24]);
});

test('an answer that ends early is told from one that is whole', () => {
  const reader = new PlanesReader((n) => new ArrayBuffer(n));
  reader.add(bytes.subarray(0, bytes.length - 1));
  expect(() => reader.end()).toThrow('ended early');
  expect(new PlanesReader((n) => new ArrayBuffer(n)).end()).toEqual([]);
});
