import { expect, test } from '@jest/globals';
import { ap0, ap1, rec709 } from '../../src/colour/primaries.ts';
import { acesContainerFaults, acesContainerPart } from '../../src/exr/acesContainer.ts';
import { decodeAttribute, encodeAttribute } from '../../src/exr/attributes.ts';
import { describeAttribute } from '../../src/exr/describe.ts';
import { openExr } from '../../src/exr/header.ts';
import type { AttributeValue } from '../../src/exr/types.ts';
import { writeExr } from '../../src/exr/write.ts';
import { memorySink, memorySource, nodeCodec } from './surroundings.ts';

const window = { xMin: -3, yMin: 4, xMax: 60, yMax: 35 };

test.each([
  ['compression', 8, 'DWAA'],
  ['lineOrder', 1, 'from the bottom'],
  ['envmap', 1, 'cube'],
  ['box2i', window, '64 × 32 from -3, 4'],
  ['chromaticities', ap1, 'ACEScg: R 0.713 0.293, G 0.165 0.83, B 0.128 0.044, white 0.32168 0.33767'],
  ['rational', [24000, 1001], '24000 / 1001 = 23.97602'],
  ['rational', [24, 1], '24'],
  // SMPTE ST 12-1: binary-coded 12:34:56:17.
  ['timecode', [0x12345617, 0], '12:34:56:17'],
  ['tiledesc', { xSize: 64, ySize: 32, mode: 0x11 }, '64 × 32, mip-map, rounded up'],
  ['float', 0.10000000149011612, '0.1'],
  ['v2f', [0.5, -2], '0.5, -2'],
  ['stringvector', ['left', 'right'], 'left, right'],
  ['somethingElse', new Uint8Array(5), '5 bytes of type somethingElse'],
] as [string, AttributeValue, string][])(
  'an attribute of type %s reads as a person would say it',
  (type, value, words) => {
    expect(describeAttribute({ type, value })).toBe(words);
  },
);

// OpenEXR File Layout, "Attribute types": each comes back as it went in.
test.each([
  ['int', -5],
  ['double', Math.PI],
  ['v3d', [1, 2, 3]],
  ['m33f', [1, 0, 0, 0, 1, 0, 0, 0, 1]],
  ['m44d', Array.from({ length: 16 }, (_, i) => i / 3)],
  ['box2f', [0, 0, 1, 1]],
  ['keycode', [1, 2, 3, 4, 5, 6, 7]],
  ['floatvector', [0.5, 0.25, -8]],
  ['deepImageState', 2],
  ['string', 'ferry ⛴ at dawn'],
  ['stringvector', ['left', '', 'right eye']],
  ['chromaticities', { red: [0.5, 0.25], green: [0.25, 0.5], blue: [0.125, 0], white: [0.25, 0.25] }],
  ['tiledesc', { xSize: 64, ySize: 32, mode: 0x12 }],
  ['preview', Uint8Array.of(1, 2, 3)],
] as [string, AttributeValue][])('%s', (type, value) => {
  expect(decodeAttribute(type, encodeAttribute({ type, value }))).toEqual(value);
});

test('the ACES container is what SMPTE ST 2065-4 asks for, and what is not is named', async () => {
  const sink = memorySink();
  const plane = new Uint16Array(64 * 32);
  const part = acesContainerPart(window, window, true);
  await writeExr(sink, [part], () => [plane, plane, plane, plane], nodeCodec);
  const file = await openExr(memorySource(sink.bytes()));
  expect(acesContainerFaults(file.parts[0]!)).toEqual([]);
  expect(file.parts[0]!.attributes.get('acesImageContainerFlag')).toEqual({ type: 'int', value: 1 });
  expect(describeAttribute(file.parts[0]!.attributes.get('chromaticities')!)).toContain('ACES2065-1');
  const other = memorySink();
  const channels = [{ name: 'Z', type: 'float' as const }];
  await writeExr(
    other,
    [
      {
        compression: 'zip',
        dataWindow: window,
        displayWindow: window,
        channels,
        tiles: { width: 16, height: 16 },
        attributes: { chromaticities: { type: 'chromaticities', value: rec709 } },
      },
    ],
    () => [new Float32Array(64 * 32)],
    nodeCodec,
  );
  const faults = acesContainerFaults((await openExr(memorySource(other.bytes()))).parts[0]!);
  expect(faults).toHaveLength(6);
  expect(faults.join()).toMatch(/Flag.*ZIP.*scan lines.*Z.*not half.*ACES2065-1/);
  expect(ap0.red[0]).toBe(0.7347);
});
