import type { OutputSettings, Viewing } from '@june-haze/contract';
import { lookOf } from './lookOf.ts';

/** What of the viewing goes into the pixels of a picture output, in words. */
export function bakedInto(output: OutputSettings, viewing: Viewing): string {
  const parts = [`view ${viewing.view}`];
  if (output.bakeLook && (viewing.look || viewing.lookFile)) parts.push(`look ${lookOf(viewing)}`);
  if (viewing.exposure !== 0) parts.push(`exposure ${viewing.exposure.toFixed(1)}`);
  if (viewing.gamma !== 1) parts.push(`gamma ${viewing.gamma}`);
  return parts.join(', ');
}
