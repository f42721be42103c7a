import { describe, expect, test } from '@jest/globals';
import { ShotColour } from '../../src/config/shotColour.ts';
import { prepareSteps } from '../../src/colour/prepare.ts';
import { codeInRange, colourOfId } from '../../src/inspect/data.ts';
import { drawInspected, type Inspection } from '../../src/inspect/inspection.ts';
import { shownSteps, type Showing } from '../../src/inspect/shownSteps.ts';
import { stopBandOf, stopBands, stopsOf } from '../../src/inspect/stops.ts';
import {
  beforeClipping,
  flagGamut,
  flagNumbers,
  markWarnings,
  warningBit,
  warningKinds,
  warnings,
} from '../../src/inspect/warnings.ts';
import { Heap } from '../../src/kernel/heap.ts';
import { createTwinKernels, createWasmKernels } from '../../src/kernel/load.ts';
import { idHash } from '../../src/matte/idHash.ts';
import { idNames } from '../../src/matte/manifest.ts';

const colour = new ShotColour();
const untoned: Showing = { viewing: { display: 'sRGB', view: 'Untoned', exposure: 0 }, off: [] };
const luminance = colour.luminance('ACEScg');

/** The codes of pixels (r, g, b, a of the working space) looked at in a way. */
function looked(pixels: readonly (readonly number[])[], inspection: Inspection, showing = untoned): number[][] {
  const both = [createWasmKernels(), createTwinKernels()].map((kernels) => {
    const heap = new Heap(kernels);
    const n = pixels.length;
    const view = prepareSteps(shownSteps(colour, 'ACEScg', showing), heap);
    const total = [0, 1, 2, 3].map((c) => heap.placeFloats(pixels.map((p) => p[c] ?? 1))) as [
      number,
      number,
      number,
      number,
    ];
    const to = new Uint8Array(4 * n);
    drawInspected(total, n, to, { inspection, view, luminance, heap });
    return [...to];
  });
  expect(both[0]).toEqual(both[1]);
  return pixels.map((_, i) => both[0]!.slice(4 * i, 4 * i + 3));
}

describe('a picture looked at', () => {
  const pixels = [
    [0.18, 0.18, 0.18, 1],
    [0.5, 0.1, 0.02, 0.25],
  ];

  test('as colour, a channel alone, alpha: a channel is the grey of its code', () => {
    const seen = looked(pixels, { kind: 'colour' });
    expect(seen[0]).toEqual([118, 118, 118]);
    (['red', 'green', 'blue'] as const).forEach((kind, c) =>
      expect(looked(pixels, { kind })).toEqual(seen.map((p) => [p[c], p[c], p[c]])),
    );
    expect(looked(pixels, { kind: 'alpha' })).toEqual([
      [255, 255, 255],
      [64, 64, 64],
    ]);
  });

  test('as luminance: the grey of the same light, through the view', () => {
    const y = luminance[0] * 0.5 + luminance[1] * 0.1 + luminance[2] * 0.02;
    expect(looked([pixels[1]!], { kind: 'luminance' })).toEqual(looked([[y, y, y, 1]], { kind: 'colour' }));
  });

  test('as data: near black, far white, the other way round, and what is no number black', () => {
    expect([0, 5, 10, -1, 11, NaN, Infinity].map((v) => codeInRange(v, { near: 0, far: 10 }))).toEqual([
      0, 128, 255, 0, 255, 0, 255,
    ]);
    expect([0, 2.5, 10].map((v) => codeInRange(v, { near: 10, far: 0 }))).toEqual([255, 191, 0]);
    expect([1, 2].map((v) => codeInRange(v, { near: 2, far: 2 }))).toEqual([0, 255]);
    expect(looked([[-1, 0, 1]], { kind: 'vectors', near: -1, far: 1 })).toEqual([[0, 128, 255]]);
    expect(looked([[0.25, 9, 9]], { kind: 'range', near: 0, far: 1 })).toEqual([[64, 64, 64]]);
  });

  test('as IDs: a colour for each, always the same; nothing is black; their names are those of the manifest', () => {
    const names = ['kettle', 'crate_red', 'crate_green', 'lantern', 'board'];
    const colours = names.map((n) => colourOfId(idHash(n).float));
    expect(new Set(colours.map(String)).size).toBe(names.length);
    expect(looked([[idHash('kettle').float, 1, 0]], { kind: 'ids' })).toEqual([[...colours[0]!]]);
    expect([colourOfId(0), colourOfId(-0)]).toEqual([
      [0, 0, 0],
      [0, 0, 0],
    ]);
    const manifest = JSON.stringify({ kettle: 'x', lantern: 'y' });
    const found = idNames({
      'cryptomatte/d593dd7/manifest': manifest,
      'cryptomatte/d593dd7/name': 'crypto_object',
      other: '{',
    });
    expect([...found.values()]).toEqual(['kettle', 'lantern']);
    expect(found.get(idHash('lantern').float)).toBe('lantern');
    expect(idNames({ 'cryptomatte/1/manifest': '{"cut' }).size).toBe(0);
  });
});

describe('false colour by stops', () => {
  test('a band is half a stop around its own, the ends take what lies beyond', () => {
    stopBands.forEach(({ stops }, i) => {
      expect(stopBandOf(Math.fround(0.18 * 2 ** stops))).toBe(i);
      if (i > 0) expect(stopBandOf(Math.fround(0.18 * 2 ** (stops - 0.499)))).toBe(i);
      if (i < stopBands.length - 1) expect(stopBandOf(Math.fround(0.18 * 2 ** (stops + 0.499)))).toBe(i);
    });
    expect([0, -1, NaN, 1e30, Infinity].map(stopBandOf)).toEqual([0, 0, 0, 14, 14]);
    expect([stopsOf(0.18), stopsOf(0.36), stopsOf(0), stopsOf(-1)]).toEqual([0, 1, -Infinity, -Infinity]);
  });

  test('pixels have the colour of the band of their luminance; bands can be told without hue', () => {
    const levels = [0.001, 0.02, 0.18, 0.7, 3, 50];
    const seen = looked(
      levels.map((v) => [v, v, v, 1]),
      { kind: 'stops' },
    );
    expect(seen).toEqual(levels.map((v) => [...stopBands[stopBandOf(v)]!.colour]));
    const light = stopBands.map(({ colour: [r, g, b] }) => 0.2126 * r + 0.7152 * g + 0.0722 * b);
    light.slice(1).forEach((l, i) => expect(l).toBeGreaterThan(light[i]!));
  });
});

describe('warnings', () => {
  const marked = (rgb: readonly number[], view: Showing = untoned) => {
    const heap = new Heap(createWasmKernels());
    const before = beforeClipping(shownSteps(colour, 'ACEScg', view));
    const flags = new Uint8Array(1);
    flagNumbers(
      rgb.map((v) => Float32Array.of(v)),
      flags,
    );
    if (before) {
      const run = prepareSteps(before.steps, heap);
      const planes = rgb.map((v) => heap.placeFloats([v])) as [number, number, number];
      run(...planes, 1);
      flagGamut(
        planes.map((p) => heap.floats(p, 1)),
        before.ends,
        flags,
      );
    }
    return warningKinds.filter((k) => flags[0]! & warningBit(k));
  };

  test('below 0, above 1, not finite: by the working space’s own numbers', () => {
    expect(marked([0.1, 0.1, 0.1])).toEqual([]);
    expect(marked([-0.001, 0.1, 0.1])).toContain('below');
    expect(marked([0.1, 1.001, 0.1])).toContain('above');
    expect(marked([0.1, NaN, 0.1])).toContain('notFinite');
    expect(marked([Infinity, 0.1, 0.1])).toContain('notFinite');
  });

  test('outside the display: what its own clipping cuts off, of the light before it', () => {
    // The green primary of AP1 lies outside Rec.709: its red and blue are negative there.
    expect(marked([0, 0.5, 0])).toEqual(['gamut']);
    expect(marked([0.2, 0.3, 0.2])).toEqual([]);
    // A tone-mapped white lies at the display's own.
    const aces: Showing = { ...untoned, viewing: { ...untoned.viewing, view: 'ACES SDR' } };
    expect(marked([0.9, 0.9, 0.9], aces)).toEqual([]);
    expect(marked([0, 0.9, 0], aces)).toContain('gamut');
  });

  test('a pixel is marked with its gravest, each kind that is asked for is counted', () => {
    const rgba = new Uint8Array(12).fill(9);
    const flags = Uint8Array.of(0, warningBit('above') | warningBit('below'), warningBit('above'));
    const counts = warningKinds.map(() => 0);
    markWarnings(rgba, flags, ['above', 'below', 'gamut'], counts);
    expect([...rgba]).toEqual([9, 9, 9, 9, ...warnings.below.colour, 9, ...warnings.above.colour, 9]);
    expect(Object.fromEntries(warningKinds.map((k, i) => [k, counts[i]]))).toEqual({
      notFinite: 0,
      below: 1,
      lut: 0,
      gamut: 0,
      above: 2,
    });
    const alone = new Uint8Array(12);
    markWarnings(alone, flags, ['above'], counts);
    expect([...alone.slice(4, 7)]).toEqual([...warnings.above.colour]);
  });
});

describe('what is shown of a viewing', () => {
  const grey = [[0.18, 0.18, 0.18, 1]];
  const see = (more: Partial<Showing>) =>
    looked(
      grey,
      { kind: 'colour' },
      { viewing: { display: 'sRGB', view: 'ACES SDR', exposure: 1 }, off: [], ...more },
    )[0]![0]!;

  test('each part is left out by itself; without a display numbers are codes', () => {
    const aces = looked(
      grey,
      { kind: 'colour' },
      { viewing: { display: 'sRGB', view: 'ACES SDR', exposure: 0 }, off: [] },
    )[0]![0]!;
    expect(see({ off: ['exposure'] })).toBe(aces);
    expect(see({})).toBeGreaterThan(aces);
    // 0.36 encoded as sRGB is 0.6358 (IEC 61966-2-1).
    expect(see({ off: ['view'] })).toBe(162);
    expect(see({ off: ['view', 'exposure'] })).toBe(118);
    expect(see({ off: ['display'] })).toBe(Math.floor(0.18 * 255 + 0.5));
  });

  test('the plain view takes numbers for linear Rec.709 and knows no exposure', () => {
    expect(see({ plain: true })).toBe(118);
    const ap1Red = looked([[0.5, 0.1, 0.1, 1]], { kind: 'colour' }, { ...untoned, plain: true })[0]!;
    expect(ap1Red).toEqual(
      looked([[0.5, 0.1, 0.1, 1]], { kind: 'colour' }, { ...untoned, off: ['view'], plain: true })[0],
    );
    // 0.5 and 0.1 encoded as sRGB are 0.7354 and 0.3492.
    expect(ap1Red).toEqual([188, 89, 89]);
  });

  test('steps after the viewing act on its codes', () => {
    const after = [{ kind: 'matrix', matrix: [2, 0, 0, 0, 2, 0, 0, 0, 2] }] as const;
    const code = looked(grey, { kind: 'colour' })[0]![0]!;
    expect(Math.abs(looked(grey, { kind: 'colour' }, { ...untoned, after })[0]![0]! - 2 * code)).toBeLessThanOrEqual(1);
  });
});
