import {
  boxHeight,
  boxWidth,
  describeAttribute,
  findPasses,
  guessSpace,
  openExr,
  type Evidence,
  type ExrPart,
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
  /** How each part is stored, in words. */
  readonly layout: string[];
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
        [...first.attributes].filter(([, a]) => a.type !== 'chlist').map(([key, a]) => [key, describeAttribute(a)]),
      ),
      layout: parts.map((p) => describeLayout(p, parts.length > 1)),
      guess,
      evidence: [...evidence],
      truncated: parts.some((p) => p.offsets.some((o) => Number.isNaN(o))),
    };
  } finally {
    await source.close();
  }
}

function describeLayout(part: ExrPart, named: boolean): string {
  const counts = (['half', 'float', 'uint'] as const)
    .map((type) => [part.channels.filter((c) => c.type === type).length, type] as const)
    .filter(([n]) => n > 0)
    .map(([n, type]) => `${n} ${type}`);
  const tiles = part.attributes.get('tiles');
  const stored = part.type.startsWith('deep')
    ? 'deep, which cannot be shown'
    : tiles
      ? `tiles of ${describeAttribute(tiles)}`
      : 'scan lines';
  const { dataWindow: data, displayWindow: shown } = part;
  const cropped = JSON.stringify(data) !== JSON.stringify(shown);
  const window = `${boxWidth(data)} × ${boxHeight(data)} from ${data.xMin}, ${data.yMin}`;
  return [
    ...(named ? [`${part.name || `part ${part.index}`}:`] : []),
    `${counts.join(', ')} ${part.channels.length === 1 ? 'channel' : 'channels'};`,
    `${stored}, ${part.compression.toUpperCase()};`,
    cropped ? `data ${window} in a picture of ${boxWidth(shown)} × ${boxHeight(shown)}` : window,
  ].join(' ');
}
