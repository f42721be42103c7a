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
