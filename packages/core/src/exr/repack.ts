import type { PartToWrite } from './write.ts';
import type { Box, Compression, ExrAttribute, SampleType } from './types.ts';

/** How layers lie in files: channels of one part, a part each, or a file each. */
export const layerings = ['together', 'parts', 'files'] as const;
export type Layering = (typeof layerings)[number];

/** A channel as it is to be written; `from` is whatever tells the caller where its samples are. */
export interface ChannelToPack<From> {
  readonly name: string;
  readonly type: SampleType;
  readonly perceptuallyLinear?: boolean;
  readonly from: From;
}

/** Channels that belong together: a pass, or a matte. */
export interface LayerToPack<From> {
  readonly name: string;
  /** What stands before a channel's name where two layers have the same. */
  readonly owner: string;
  readonly dataWindow: Box;
  readonly displayWindow: Box;
  readonly channels: readonly ChannelToPack<From>[];
  readonly attributes: Readonly<Record<string, ExrAttribute>>;
}

export interface PackedPart<From> {
  readonly write: PartToWrite;
  /** Where each of the part's channels is read, in the same order. */
  readonly from: readonly From[];
}
export interface PackedFile<From> {
  /** The layer's name where each has a file of its own. */
  readonly layer: string | undefined;
  readonly parts: readonly PackedPart<From>[];
}

/** Names made distinct: the second of a name becomes `name_2`. */
export function distinctNames(names: readonly string[]): string[] {
  const taken = new Set<string>();
  return names.map((name) => {
    let own = name;
    for (let n = 2; taken.has(own); n++) own = `${name}_${n}`;
    taken.add(own);
    return own;
  });
}

/**
 * Arranges layers as parts and files. In one part their data windows become the smallest that holds all, and a channel's name gets its owner's before
 * it where two would meet. Throws a RangeError with a sentence where layers of other pictures would lie in one part.
 */
export function arrangeLayers<From>(
  layers: readonly LayerToPack<From>[],
  layering: Layering,
  compression: Compression,
): PackedFile<From>[] {
  const names = distinctNames(layers.map((l) => l.name));
  const one = (layer: LayerToPack<From>, name?: string): PackedPart<From> => ({
    write: {
      ...(name === undefined ? {} : { name }),
      compression,
      dataWindow: layer.dataWindow,
      displayWindow: layer.displayWindow,
      channels: layer.channels.map(({ name: called, type, perceptuallyLinear = false }) => ({
        name: called,
        type,
        perceptuallyLinear,
      })),
      attributes: layer.attributes,
    },
    from: layer.channels.map((c) => c.from),
  });
  if (layering === 'files') return layers.map((l, i) => ({ layer: names[i]!, parts: [one(l)] }));
  const parts = layering === 'parts' ? layers.map((l, i) => one(l, names[i])) : [one(joined(layers))];
  return [{ layer: undefined, parts }];
}

function joined<From>(layers: readonly LayerToPack<From>[]): LayerToPack<From> {
  const [first] = layers;
  if (!first) throw new RangeError('There is no layer to write.');
  const other = layers.find((l) => !isSameBox(l.displayWindow, first.displayWindow));
  if (other) throw new RangeError(`${other.name} is of another picture than ${first.name}; write parts or files.`);
  const taken = new Set<string>();
  const channels = layers.flatMap((layer) =>
    layer.channels.map((c) => {
      const name = taken.has(c.name) ? `${layer.owner}.${c.name}` : c.name;
      taken.add(name);
      return { ...c, name };
    }),
  );
  return {
    ...first,
    dataWindow: layers.map((l) => l.dataWindow).reduce(around),
    channels,
    // What the first says stands; of IDs' names all are needed.
    attributes: Object.assign({}, ...layers.map((l) => l.attributes).reverse()) as Record<string, ExrAttribute>,
  };
}

const isSameBox = (a: Box, b: Box): boolean =>
  a.xMin === b.xMin && a.yMin === b.yMin && a.xMax === b.xMax && a.yMax === b.yMax;

/** The smallest box around two. */
const around = (a: Box, b: Box): Box => ({
  xMin: Math.min(a.xMin, b.xMin),
  yMin: Math.min(a.yMin, b.yMin),
  xMax: Math.max(a.xMax, b.xMax),
  yMax: Math.max(a.yMax, b.yMax),
});

/** A set of IDs' attributes begins so, with a key of its own (Cryptomatte specification 1.2, "Metadata"). */
const idSet = /^cryptomatte\/([^/]+)\//;

/**
 * A part's attributes for some of its channels: all that it says, but sets of IDs whose layers are not among them (a set's layers begin with its
 * name: Cryptomatte specification 1.2).
 */
export function attributesForChannels(
  attributes: ReadonlyMap<string, ExrAttribute>,
  channels: readonly string[],
): Record<string, ExrAttribute> {
  const stays = (name: string) => {
    const key = idSet.exec(name)?.[1];
    if (key === undefined) return true;
    const called = attributes.get(`cryptomatte/${key}/name`)?.value;
    return typeof called !== 'string' || channels.some((c) => c.startsWith(called));
  };
  return Object.fromEntries([...attributes].filter(([name]) => stays(name)));
}

/** Rows from one to another of a box, out of rows that lie in another of the same picture: what is outside of that is 0. */
export function rowsInBox<P extends Float32Array | Uint16Array | Uint32Array>(
  held: P,
  own: Box,
  box: Box,
  top: number,
  bottom: number,
): P {
  const width = box.xMax - box.xMin + 1;
  const wide = own.xMax - own.xMin + 1;
  const out = new (held.constructor as new (n: number) => P)(width * (bottom - top + 1));
  for (let y = Math.max(top, own.yMin); y <= Math.min(bottom, own.yMax); y++) {
    const from = (y - own.yMin) * wide;
    out.set(held.subarray(from, from + wide) as never, (y - top) * width + own.xMin - box.xMin);
  }
  return out;
}
