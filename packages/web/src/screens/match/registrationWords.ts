import type { Registration } from '@june-haze/core';

/** How a reference was laid on the frame, where that was more than laying it down. */
export function registrationWords({ scale, shift, averaging }: Registration): string {
  const parts = [
    ...(scale === 1
      ? []
      : [`It is ${Math.round(1 / scale)} times smaller: ${averaging === 'display' ? 'codes' : 'light'} averaged.`]),
    ...(shift.every((s) => s === 0) ? [] : [`It lies ${shift[0]} and ${shift[1]} pixels right and down.`]),
  ];
  return parts.join(' ');
}
