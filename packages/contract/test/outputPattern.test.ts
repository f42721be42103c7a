import { describe, expect, test } from '@jest/globals';
import { framesOfTimecode, timecodeOfFrame } from '@june-haze/core';
import {
  fileNameSchema,
  fileOfFrame,
  folderOfShot,
  outputFolderSchema,
  outputPattern,
  outputSettingsSchema,
  timecodeFrame,
  timecodeSchema,
} from '@june-haze/contract';

const shot = {
  id: 'a3f1c2de',
  name: 'Last boat / at dawn',
  workingSpace: 'Linear Rec.2020',
  viewing: { display: 'Rec.709' },
  rate: 23.976,
  width: 1280,
  height: 720,
};
const settings = (change: object) =>
  outputSettingsSchema.parse({
    name: 'Master',
    kind: 'exr',
    sampleType: 'half',
    compression: 'zip',
    firstFrame: 1001,
    lastFrame: 1004,
    ...change,
  });

test.each([
  [{}, 'last_boat_at_dawn/last_boat_at_dawn_master_linear_rec_2020.####.exr'],
  [{ kind: 'png', name: 'For the web' }, 'last_boat_at_dawn/last_boat_at_dawn_for_the_web_rec_709.####.png'],
  [{ kind: 'aces', name: '--' }, 'last_boat_at_dawn/last_boat_at_dawn_--_aces2065-1.####.exr'],
  [
    { fileName: '{output}_v003.#####', folder: 'to client/{shot}' },
    'to client/last_boat_at_dawn/master_v003.#####.exr',
  ],
  [{ kind: 'jpeg', fileName: '{size} {rate}-####', width: 640 }, 'last_boat_at_dawn/640x360 23-976-####.jpg'],
  // A movie is one file: the frame goes, and what stands before it.
  [{ kind: 'movie' }, 'last_boat_at_dawn/last_boat_at_dawn_master_rec_709.mp4'],
  [{ kind: 'movie', codec: 'prores', fileName: '####' }, 'last_boat_at_dawn/movie.mov'],
  [{ fileName: '渡し場_####' }, 'last_boat_at_dawn/渡し場_####.exr'],
])('names are as they are written: %j', (change, wanted) => {
  expect(outputPattern(shot, settings(change))).toBe(wanted);
});

test.each([
  ['{shot}_{colour}', /nothing called \{colour\}/],
  ['a/b', /field of their own/],
  ['..', /dot/],
  ['.hidden', /dot/],
  ['a:b', /Use letters/],
  ['a\0b', /Use letters/],
  ['##_##', /write them once/],
  ['{shot', /Use letters/],
  ['', /missing/],
])('a file cannot be called %j', (name, why) => {
  expect(fileNameSchema.safeParse(name).error?.issues[0]?.message).toMatch(why);
});

test.each(['../up', '/root', 'a//b', 'a/..', 'x/####', 'a/ /b/', 'a\\b', '1/2/3/4/5/6/7/8/9'])(
  'a folder cannot be %j',
  (name) => {
    expect(outputFolderSchema.safeParse(name).success).toBe(false);
  },
);

test('shots of any alphabet have folders of their own', () => {
  const folders = ['渡し場', '나루터', 'Причал', 'Łódź', 'Lodz', '⛴', '🌊', 'Kai', 'KAI 2'].map((name, i) =>
    folderOfShot({ id: `${i}0000000-0000`, name }),
  );
  expect(new Set(folders).size).toBe(folders.length);
  expect(folders.slice(0, 3)).toEqual(['渡し場', '나루터'.normalize('NFC'), 'причал']);
  expect(folders.every((f) => !/[\\/:*?"<>|.\s]/.test(f))).toBe(true);
});

describe('numbers of files and their time', () => {
  test('a file’s number is the frame’s and the offset', () => {
    const pattern = 'x/a.####.exr';
    expect(fileOfFrame({ pattern, settings: settings({ offset: -1000 }) }, 1001)).toBe('x/a.0001.exr');
    expect(fileOfFrame({ pattern, settings: settings({}) }, 1001)).toBe('x/a.1001.exr');
  });

  test('time begins with the frame’s own number, or with the time code that is given', () => {
    expect(timecodeFrame(settings({}), 24, 1003)).toBe(1003);
    // An hour at 24 is 86,400 frames (SMPTE ST 12-1: hours, minutes, seconds, frames).
    expect(timecodeFrame(settings({ timecode: '01:00:00:00' }), 24, 1001)).toBe(86_400);
    expect(timecodeFrame(settings({ timecode: '01:00:00:00', step: 2 }), 24, 1003)).toBe(86_401);
    for (const rate of [23.976, 24, 25, 30])
      expect(timecodeOfFrame(framesOfTimecode('10:11:12:13', rate)!, rate)).toBe('10:11:12:13');
  });

  test.each(['1:00:00:00', '24:00:00:00', '01:60:00:00', '01:00:00', 'now'])('%j is no time code', (words) => {
    expect(timecodeSchema.safeParse(words).success).toBe(false);
  });
});
