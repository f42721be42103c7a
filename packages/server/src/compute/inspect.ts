import {
  boxHeight,
  boxWidth,
  findPasses,
  guessSpace,
  openExr,
  type AttributeValue,
  type Evidence,
  type Pass,
} from '@june-haze/core';
import { openSource } from '@june-haze/files';

export interface Inspection {
  readonly width: number;
  readonly height: number;
  readonly rate: number | null;
  readonly compression: string;
  readonly sampleType: string;
  readonly bytes: number;
  readonly passes: Pass[];
  readonly attributes: Record<string, string>;
  readonly guess: string | undefined;
  readonly evidence: Evidence[];
  /** Set when the chunk table points nowhere: the frame is cut short. */
  readonly truncated: boolean;
}

/** Reads a file's header and says what is in it. */
export async function inspect(path: string, name: string): Promise<Inspection> {
  const source = await openSource(path, name);
  try {
    const { parts } = await openExr(source);
    const first = parts[0]!;
    const types = new Set(parts.flatMap((p) => p.channels.map((c) => c.type)));
    const rate = first.attributes.get('framesPerSecond')?.value;
    const { guess, evidence } = guessSpace(name, first.attributes);
    return {
      width: boxWidth(first.displayWindow),
      height: boxHeight(first.displayWindow),
      rate: Array.isArray(rate) && rate[1] ? Number(rate[0]) / Number(rate[1]) : null,
      compression: first.compression,
      sampleType: types.size === 1 ? [...types][0]! : 'mixed',
      bytes: source.size,
      passes: findPasses(parts),
      attributes: Object.fromEntries(
        [...first.attributes].filter(([, a]) => a.type !== 'chlist').map(([key, a]) => [key, describe(a.value)]),
      ),
      guess,
      evidence: [...evidence],
      truncated: parts.some((p) => p.offsets.some((o) => Number.isNaN(o))),
    };
  } finally {
    await source.close();
  }
}

function describe(value: AttributeValue): string {
  if (value instanceof Uint8Array) return `${value.length} bytes`;
  if (typeof value === 'object') return JSON.stringify(value).slice(0, 400);
  return String(value).slice(0, 400);
}
