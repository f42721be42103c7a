import type { Viewing } from '@june-haze/contract';

/** A viewing's look in words. */
export function lookOf({ look, lookFile }: Viewing): string {
  const parts = [lookFile?.name, look || undefined].filter((p) => p !== undefined);
  if (parts.length > 0) return parts.join(' and ');
  return look === '' ? 'no look' : 'no extra look';
}
