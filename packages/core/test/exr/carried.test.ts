import { expect, test } from '@jest/globals';
import { carriedAttributes, rec709, type ExrAttribute } from '@june-haze/core';

const matrix = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 2, 3, 4, 1];
const attributes = new Map<string, ExrAttribute>([
  ['worldToCamera', { type: 'm44f', value: matrix }],
  ['worldToNDC', { type: 'm44f', value: matrix }],
  ['capDate', { type: 'string', value: '2026:06:01 05:00:00' }],
  ['focus', { type: 'float', value: 4.5 }],
  ['reelName', { type: 'string', value: 'A001' }],
  ['owner', { type: 'string', value: 'the ferry landing' }],
  ['samplesPerPixel', { type: 'int', value: 256 }],
  ['chromaticities', { type: 'chromaticities', value: rec709 }],
  ['colorspace', { type: 'string', value: 'sRGB' }],
  ['gamma', { type: 'float', value: 2.2 }],
  ['dwaCompressionLevel', { type: 'float', value: 45 }],
  ['compressionUsed', { type: 'string', value: 'zip' }],
  ['cryptomatte/abc/name', { type: 'string', value: 'CryptoObject' }],
  ['software', { type: 'string', value: 'a renderer' }],
  ['dataWindow', { type: 'box2i', value: { xMin: 0, yMin: 0, xMax: 1, yMax: 1 } }],
  ['something', { type: 'ownType', value: new Uint8Array(4) }],
]);

test('what a source says of the scene is carried; its colours, make and windows are not', () => {
  const kept = carriedAttributes({ attributes }, { whole: true });
  expect(Object.keys(kept)).toEqual([
    'worldToCamera',
    'worldToNDC',
    'capDate',
    'focus',
    'reelName',
    'owner',
    'samplesPerPixel',
  ]);
  expect(kept.worldToCamera).toEqual({ type: 'm44f', value: matrix });
});

test('a part of the picture is no longer what leads from the world to the whole; an ACES container has its own list', () => {
  expect(carriedAttributes({ attributes }, { whole: false })).not.toHaveProperty('worldToNDC');
  expect(Object.keys(carriedAttributes({ attributes }, { whole: true, aces: true }))).toEqual([
    'worldToCamera',
    'worldToNDC',
    'capDate',
    'focus',
    'reelName',
    'owner',
  ]);
});
