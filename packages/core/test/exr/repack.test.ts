import { describe, expect, test } from '@jest/globals';
import {
  arrangeLayers,
  attributesForChannels,
  distinctNames,
  rowsInBox,
  type Box,
  type ExrAttribute,
  type LayerToPack,
} from '@june-haze/core';

const box = (xMin: number, yMin: number, xMax: number, yMax: number): Box => ({ xMin, yMin, xMax, yMax });
const frame = box(0, 0, 7, 3);
const layer = (name: string, channels: string[], change: Partial<LayerToPack<string>> = {}): LayerToPack<string> => ({
  name,
  owner: 'landing',
  dataWindow: frame,
  displayWindow: frame,
  channels: channels.map((c) => ({ name: c, type: 'half', from: `${name}/${c}` })),
  attributes: {},
  ...change,
});

describe('layers in files', () => {
  const layers = [layer('beauty', ['R', 'G', 'B']), layer('depth', ['Z']), layer('beauty', ['R'], { owner: 'kettle' })];

  test('together: one part; a name that is taken gets its owner’s before it', () => {
    const [file] = arrangeLayers(layers, 'together', 'zip');
    expect(file!.parts).toHaveLength(1);
    expect(file!.parts[0]!.write.channels.map((c) => c.name)).toEqual(['R', 'G', 'B', 'Z', 'kettle.R']);
    expect(file!.parts[0]!.from).toEqual(['beauty/R', 'beauty/G', 'beauty/B', 'depth/Z', 'beauty/R']);
  });

  test('parts and files: names are distinct', () => {
    const [file] = arrangeLayers(layers, 'parts', 'piz');
    expect(file!.parts.map((p) => p.write.name)).toEqual(['beauty', 'depth', 'beauty_2']);
    const files = arrangeLayers(layers, 'files', 'zip');
    expect(files.map((f) => f.layer)).toEqual(['beauty', 'depth', 'beauty_2']);
    expect(files.every((f) => f.parts.length === 1 && f.parts[0]!.write.name === undefined)).toBe(true);
    expect(distinctNames(['a', 'a', 'a_2', 'a'])).toEqual(['a', 'a_2', 'a_2_2', 'a_3']);
  });

  test('data windows of one picture become the smallest that holds all; another picture is refused', () => {
    const small = layer('mask', ['M'], { dataWindow: box(-2, 1, 3, 9) });
    expect(arrangeLayers([layers[0]!, small], 'together', 'zip')[0]!.parts[0]!.write.dataWindow).toEqual(
      box(-2, 0, 7, 9),
    );
    const other = layer('other', ['O'], { displayWindow: box(0, 0, 15, 7) });
    expect(() => arrangeLayers([layers[0]!, other], 'together', 'zip')).toThrow(/other is of another picture/);
    expect(arrangeLayers([layers[0]!, other], 'parts', 'zip')[0]!.parts).toHaveLength(2);
  });
});

test('names behind IDs go with the layers that they name (Cryptomatte specification 1.2, "Metadata")', () => {
  const said = (value: string): ExrAttribute => ({ type: 'string', value });
  const attributes = new Map([
    ['cryptomatte/d593dd7/name', said('crypto_object')],
    ['cryptomatte/d593dd7/manifest', said('{"kettle":"00000001"}')],
    ['cryptomatte/1234567/name', said('crypto_material')],
    ['owner', said('the ferry landing')],
  ]);
  expect(Object.keys(attributesForChannels(attributes, ['crypto_object00.R', 'crypto_object01.R']))).toEqual([
    'cryptomatte/d593dd7/name',
    'cryptomatte/d593dd7/manifest',
    'owner',
  ]);
  expect(Object.keys(attributesForChannels(attributes, ['Z']))).toEqual(['owner']);
});

test('rows of a smaller box in a larger one: what is outside is 0', () => {
  const held = Uint16Array.from([1, 2, 3, 4, 5, 6]);
  const own = box(1, 1, 3, 2);
  expect([...rowsInBox(held, own, box(0, 0, 4, 3), 0, 3)]).toEqual([
    0, 0, 0, 0, 0, 0, 1, 2, 3, 0, 0, 4, 5, 6, 0, 0, 0, 0, 0, 0,
  ]);
  expect([...rowsInBox(held, own, own, 2, 2)]).toEqual([4, 5, 6]);
  expect([...rowsInBox(held, own, box(1, 0, 3, 9), 8, 9)]).toEqual([0, 0, 0, 0, 0, 0]);
});
