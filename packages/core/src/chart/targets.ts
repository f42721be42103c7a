import { lightOfCode } from '../colour/displayCodes.ts';

/**
 * The common chart of 24 patches, row by row: names, and sRGB codes as they are published for it under D65 (from memory; they stand on many
 * charts' sheets and in C. McCamy, H. Marcus and J. Davidson, A Color-Rendition Chart, Journal of Applied Photographic Engineering 2, 1976, as
 * chromaticities).
 */
export const chartTargets: readonly { readonly name: string; readonly codes: readonly [number, number, number] }[] = [
  { name: 'dark skin', codes: [115, 82, 68] },
  { name: 'light skin', codes: [194, 150, 130] },
  { name: 'blue sky', codes: [98, 122, 157] },
  { name: 'foliage', codes: [87, 108, 67] },
  { name: 'blue flower', codes: [133, 128, 177] },
  { name: 'bluish green', codes: [103, 189, 170] },
  { name: 'orange', codes: [214, 126, 44] },
  { name: 'purplish blue', codes: [80, 91, 166] },
  { name: 'moderate red', codes: [193, 90, 99] },
  { name: 'purple', codes: [94, 60, 108] },
  { name: 'yellow green', codes: [157, 188, 64] },
  { name: 'orange yellow', codes: [224, 163, 46] },
  { name: 'blue', codes: [56, 61, 150] },
  { name: 'green', codes: [70, 148, 73] },
  { name: 'red', codes: [175, 54, 60] },
  { name: 'yellow', codes: [231, 199, 31] },
  { name: 'magenta', codes: [187, 86, 149] },
  { name: 'cyan', codes: [8, 133, 161] },
  { name: 'white', codes: [243, 243, 242] },
  { name: 'neutral 8', codes: [200, 200, 200] },
  { name: 'neutral 6.5', codes: [160, 160, 160] },
  { name: 'neutral 5', codes: [122, 122, 121] },
  { name: 'neutral 3.5', codes: [85, 85, 85] },
  { name: 'black', codes: [52, 52, 52] },
];

/** The published targets as linear light of Rec.709. */
export const publishedTargets = (): (readonly [number, number, number])[] =>
  chartTargets.map(
    ({ codes }) => codes.map((c) => lightOfCode(c / 255, 'srgb')) as unknown as readonly [number, number, number],
  );
