import { expect, test } from '@jest/globals';
import { framesOfTimecode, timecodeOfFrame, timecodeWord } from '../../src/sequence/timecode.ts';

test.each([
  [0, 24, '00:00:00:00'],
  [1001, 24, '00:00:41:17'],
  [24 * 3600, 24, '01:00:00:00'],
  [25 * 60 + 7, 25, '00:01:00:07'],
  // Frames are counted at the whole rate above (SMPTE ST 12-1, without dropping).
  [24, 23.976, '00:00:01:00'],
  [30, 29.97, '00:00:01:00'],
  [1799, 29.97, '00:00:59:29'],
  [90_000, 25, '01:00:00:00'],
])('frame %i at %f is %s', (frame, rate, code) => {
  expect(timecodeOfFrame(frame, rate)).toBe(code);
  expect(timecodeWord(frame, rate)!.toString(16).padStart(8, '0')).toBe(code.replaceAll(':', ''));
});

test('what no time code counts has none', () => {
  expect(timecodeWord(-1, 24)).toBeUndefined();
  expect(timecodeWord(10, 120)).toBeUndefined();
});

// SMPTE ST 12-1: drop-frame counts 17,982 frames in ten minutes and 107,892 in an hour at 29.97.
test('timecodes to frames, with and without drop', () => {
  expect(framesOfTimecode('01:00:00:00', 24)).toBe(86_400);
  expect(framesOfTimecode('00:10:00;00', 29.97)).toBe(17_982);
  expect(framesOfTimecode('01:00:00;00', 29.97)).toBe(107_892);
  expect(framesOfTimecode('00:01:00;02', 29.97)).toBe(1800);
  expect(framesOfTimecode('noon', 24)).toBeUndefined();
});
