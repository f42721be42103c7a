import type { ExrChannel, SampleType } from '../types.ts';

/** How DWA keeps a channel: deflated as it is, as lossy DCT blocks, or run-length coded. */
export type DwaScheme = 'deflate' | 'dct' | 'runs';

/** Which scheme a channel gets, by the last part of its name and its type (OpenEXR, ImfDwaCompressor, "Classifier"). */
export interface DwaRule {
  readonly suffix: string;
  readonly scheme: DwaScheme;
  readonly type: SampleType;
  /** Place in the colour transform of a layer: 0, 1, 2 for red, green, blue; -1 for none. */
  readonly component: number;
  readonly anyCase: boolean;
}

const lossy = (suffix: string, component: number, anyCase: boolean): DwaRule[] =>
  (['half', 'float'] as const).map((type) => ({ suffix, scheme: 'dct', type, component, anyCase }));
const runs = (suffix: string, anyCase: boolean): DwaRule[] =>
  (['uint', 'half', 'float'] as const).map((type) => ({ suffix, scheme: 'runs', type, component: -1, anyCase }));

/** Written into every chunk since version 2. */
export const currentRules: readonly DwaRule[] = [
  ...lossy('R', 0, false),
  ...lossy('G', 1, false),
  ...lossy('B', 2, false),
  ...lossy('Y', -1, false),
  ...lossy('BY', -1, false),
  ...lossy('RY', -1, false),
  ...runs('A', false),
];

/** What version 0 and 1 went by, without writing it down. */
export const legacyRules: readonly DwaRule[] = [
  ...lossy('r', 0, true),
  ...lossy('red', 0, true),
  ...lossy('g', 1, true),
  ...lossy('grn', 1, true),
  ...lossy('green', 1, true),
  ...lossy('b', 2, true),
  ...lossy('blu', 2, true),
  ...lossy('blue', 2, true),
  ...lossy('y', -1, true),
  ...lossy('by', -1, true),
  ...lossy('ry', -1, true),
  ...runs('a', true),
];

/** The scheme of every channel, and the layers whose three colours share the colour transform, in the order they were met. */
export function classifyChannels(
  channels: readonly ExrChannel[],
  rules: readonly DwaRule[],
): { channels: DwaScheme[]; triples: (readonly [number, number, number])[] } {
  const layers = new Map<string, number[]>();
  const schemes = channels.map((channel, i): DwaScheme => {
    const dot = channel.name.lastIndexOf('.');
    const suffix = channel.name.slice(dot + 1);
    const prefix = dot < 0 ? '' : channel.name.slice(0, dot);
    const same = (r: DwaRule) => (r.anyCase ? r.suffix.toLowerCase() === suffix.toLowerCase() : r.suffix === suffix);
    // Later rules win, as in the reference.
    const rule = rules.filter((r) => r.type === channel.type && same(r)).at(-1);
    if (!layers.has(prefix)) layers.set(prefix, [-1, -1, -1]);
    if (rule && rule.component >= 0) layers.get(prefix)![rule.component] = i;
    return rule?.scheme ?? 'deflate';
  });
  const even = (members: readonly number[]) =>
    members.every(
      (i) =>
        i >= 0 &&
        channels[i]!.xSampling === channels[members[0]!]!.xSampling &&
        channels[i]!.ySampling === channels[members[0]!]!.ySampling,
    );
  // The reference keeps its layers in a map sorted by their names' bytes.
  const names = [...layers.keys()].sort((a, b) => (a < b ? -1 : a > b ? 1 : 0));
  const triples = names.map((n) => layers.get(n)!).filter(even) as unknown as (readonly [number, number, number])[];
  return { channels: schemes, triples };
}
