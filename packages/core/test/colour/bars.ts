/** Colour bars of 75 %, a table of SMPTE RP 219-1 (from memory): red, green and blue, and Y'CbCr of legal range in 10 bits. */
export const bars: readonly (readonly [name: string, rgb: readonly number[], ycc: readonly number[]])[] = [
  ['white', [0.75, 0.75, 0.75], [721, 512, 512]],
  ['yellow', [0.75, 0.75, 0], [674, 176, 543]],
  ['cyan', [0, 0.75, 0.75], [581, 589, 176]],
  ['green', [0, 0.75, 0], [534, 253, 207]],
  ['magenta', [0.75, 0, 0.75], [251, 771, 817]],
  ['red', [0.75, 0, 0], [204, 435, 848]],
  ['blue', [0, 0, 0.75], [111, 848, 481]],
];
