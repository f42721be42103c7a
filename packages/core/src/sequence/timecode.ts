/**
 * A frame's number as hours, minutes, seconds and frames at a rate (SMPTE ST 12-1, 5.2; without dropping): frame 0 is 00:00:00:00, and rates
 * like 23.976 count as many frames to a second as the whole rate above them.
 */
export function timecodeOfFrame(frame: number, rate: number): string {
  const each = Math.max(1, Math.round(rate));
  const seconds = Math.floor(frame / each);
  const parts = [Math.floor(seconds / 3600) % 24, Math.floor(seconds / 60) % 60, seconds % 60, frame % each];
  return parts.map((p) => String(p).padStart(2, '0')).join(':');
}

/**
 * The same as a word of binary-coded digits, hours first: the first word of an EXR's `timeCode` and a DPX's time code (SMPTE ST 12-1; ST 268-1,
 * field 55). Undefined for frames before 0, which no time code counts.
 */
export function timecodeWord(frame: number, rate: number): number | undefined {
  if (frame < 0) return undefined;
  const digits = timecodeOfFrame(frame, rate).replaceAll(':', '');
  // Rates above 99 frames a second have no two digits for their frames.
  return digits.length === 8 && Math.round(rate) <= 40 ? parseInt(digits, 16) : undefined;
}

/**
 * Frames since midnight of a timecode at a rate (SMPTE ST 12-1). A semicolon before the frames drops two numbers each minute but every
 * tenth (four at 60 frames). Undefined for what is no timecode.
 */
export function framesOfTimecode(timecode: string, rate: number): number | undefined {
  const match = /^(\d\d):(\d\d):(\d\d)([:;.])(\d\d)$/.exec(timecode);
  if (!match) return undefined;
  const [hours, minutes, seconds, frames] = [1, 2, 3, 5].map((i) => Number(match[i])) as [
    number,
    number,
    number,
    number,
  ];
  const base = Math.max(1, Math.round(rate));
  const counted = ((hours * 60 + minutes) * 60 + seconds) * base + frames;
  if (match[4] === ':') return counted;
  const all = hours * 60 + minutes;
  return counted - Math.round(base / 15) * (all - Math.floor(all / 10));
}
