import { isManifest, isManifestFile, isOfIds } from '../matte/manifest.ts';
import { describeAttribute } from '../exr/describe.ts';
import { tileLayout } from '../exr/geometry.ts';
import { boxHeight, boxWidth, type ExrFile, type ExrPart } from '../exr/types.ts';
import { readableShare, wholenessOf } from '../exr/wholeness.ts';
import type { Primaries } from '../colour/primaries.ts';
import { findSpace } from '../colour/spaces.ts';
import { dataRoles, findPasses } from '../sequence/passes.ts';
import { chromaticityEvidence, type Evidence } from './evidence.ts';
import { alphaAttribute, alphaKinds, kindEvidence, type FileFacts, type StoredType } from './fileFacts.ts';

/** What an EXR file says of itself. Reads headers, tables and one chunk's size; `modifiedAt` in milliseconds since 1970. */
export async function exrFacts(file: ExrFile, modifiedAt: number): Promise<FileFacts> {
  const { parts } = file;
  const first = parts[0]!;
  const passes = findPasses(parts);
  const types = new Set(parts.flatMap((p) => p.channels.map((c) => c.type)));
  const sampleType: StoredType = types.size === 1 ? [...types][0]! : 'mixed';
  const { missing } = await wholenessOf(file);
  const evidence = tagEvidence(first);
  const transparent = passes.some(
    (p) => p.role === 'alpha' || (!dataRoles.has(p.role) && p.channels.some((c) => c.component === 'A')),
  );
  const view = first.attributes.get('view')?.value;
  return {
    kind: 'exr',
    bytes: file.source.size,
    modifiedAt,
    width: boxWidth(first.displayWindow),
    height: boxHeight(first.displayWindow),
    displayWindow: first.displayWindow,
    dataWindow: first.dataWindow,
    pixelAspect: first.pixelAspect,
    ...rateOf(first),
    timecode: first.attributes.has('timeCode') ? describeAttribute(first.attributes.get('timeCode')!) : null,
    codec: first.compression,
    sampleType,
    alpha: transparent ? alphaSaid(first) : 'none',
    passes,
    parts: parts.length,
    attributes: Object.fromEntries(
      // Names behind IDs stand in the part that holds the IDs.
      [...parts.slice(1).flatMap((p) => [...p.attributes].filter(([key]) => isOfIds(key))), ...first.attributes]
        .filter(([, a]) => a.type !== 'chlist')
        .map(([key, a]) => [key, isManifest(key) || isManifestFile(key) ? String(a.value) : describeAttribute(a)]),
    ),
    layout: parts.map((p) => describeLayout(p, parts.length > 1)),
    evidence: [...evidence, kindEvidence('exr', sampleType, evidence.length > 0)],
    view: parts.length === 1 && (view === 'left' || view === 'right') ? view : null,
    missingChunks: missing,
    readable: Math.min(...parts.map(readableShare)),
    frames: null,
    notes: [],
    range: null,
  };
}

/** OpenEXR's convention is premultiplied; a file may say otherwise in the attribute that our own files carry (docs/exr.md). */
function alphaSaid({ attributes }: ExrPart): FileFacts['alpha'] {
  const said = attributes.get(alphaAttribute)?.value;
  return alphaKinds.find((k) => k === said) ?? 'premultiplied';
}

function rateOf(part: ExrPart): Pick<FileFacts, 'rate' | 'rateFrom'> {
  const value = part.attributes.get('framesPerSecond')?.value;
  const rate =
    Array.isArray(value) && value[1] ? Number(value[0]) / Number(value[1]) : typeof value === 'number' ? value : 0;
  return rate > 0 ? { rate, rateFrom: 'framesPerSecond in the header' } : { rate: null, rateFrom: null };
}

/** Colour tags of a header, strongest first. */
function tagEvidence({ attributes }: ExrPart): Evidence[] {
  const evidence: Evidence[] = [];
  const identity = attributes.get('colorInteropID')?.value;
  if (typeof identity === 'string')
    evidence.push({ from: 'colour identity', says: identity, space: findSpace(identity)?.name });
  if (attributes.get('acesImageContainerFlag')?.value === 1)
    evidence.push({ from: 'ACES container flag', says: 'ACES2065-1', space: 'ACES2065-1' });
  const primaries = attributes.get('chromaticities')?.value as Primaries | undefined;
  if (primaries) evidence.push(chromaticityEvidence(primaries));
  return evidence;
}

function describeLayout(part: ExrPart, named: boolean): string {
  const counts = (['half', 'float', 'uint'] as const)
    .map((type) => [part.channels.filter((c) => c.type === type).length, type] as const)
    .filter(([n]) => n > 0)
    .map(([n, type]) => `${n} ${type}`);
  const tiles = tileLayout(part) && part.attributes.get('tiles');
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
