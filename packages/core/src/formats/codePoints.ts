import type { Evidence } from '../intake/evidence.ts';

/** ColourPrimaries (ITU-T H.273, table 2): the code points that pictures and films carry. */
const primaries: Readonly<Record<number, string>> = {
  1: 'Rec.709',
  5: 'BT.601 625',
  6: 'BT.601 525',
  9: 'BT.2020',
  11: 'P3 with a DCI white',
  12: 'P3-D65',
};

/** TransferCharacteristics (ITU-T H.273, table 3). */
const transfers: Readonly<Record<number, string>> = {
  1: 'BT.709 curve',
  4: 'gamma 2.2',
  5: 'gamma 2.8',
  6: 'BT.601 curve',
  8: 'linear',
  13: 'sRGB curve',
  14: 'BT.2020 curve',
  15: 'BT.2020 curve',
  16: 'PQ',
  18: 'HLG',
};

/** Pairs that are a space of the built-in config. */
const spaces: Readonly<Record<string, string>> = {
  '1/1': 'Rec.709',
  '1/6': 'Rec.709',
  '1/4': 'Gamma 2.2',
  '1/8': 'Linear Rec.709',
  '1/13': 'sRGB',
  '9/1': 'BT.2020',
  '9/14': 'BT.2020',
  '9/15': 'BT.2020',
  '9/8': 'Linear Rec.2020',
  '9/16': 'PQ',
  '9/18': 'HLG',
  '12/8': 'Linear P3-D65',
  '12/13': 'Display P3',
};

/** What a pair of H.273 code points says; 2 means unspecified and says nothing. */
export function codePointEvidence(primary: number, transfer: number, where: string): Evidence[] {
  const words = [primaries[primary], transfers[transfer]].filter((w) => w !== undefined);
  if (!words.length) return [];
  const space = spaces[`${primary}/${transfer}`];
  return [{ from: 'colour tags', says: `${where}: ${words.join(', ')}`, ...(space ? { space } : {}) }];
}
