import {
  kindEvidence,
  type AlphaKind,
  type Box,
  type Evidence,
  type FileFacts,
  type Pass,
  type StoredType,
} from '@june-haze/core';

export type CommonFacts = Pick<FileFacts, 'kind' | 'bytes' | 'modifiedAt'>;

/** A file of one picture: red, green and blue, with or without alpha. */
export function onePicture(
  common: CommonFacts,
  picture: {
    width: number;
    height: number;
    channels: readonly string[];
    alpha: AlphaKind;
    sampleType: StoredType;
    codec: string;
    evidence: readonly Evidence[];
    attributes?: Readonly<Record<string, string>>;
  } & Partial<Pick<FileFacts, 'pixelAspect' | 'rate' | 'rateFrom' | 'timecode' | 'frames' | 'notes' | 'range'>>,
): FileFacts {
  const { width, height, channels, evidence, sampleType } = picture;
  const window: Box = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  const pass: Pass = {
    name: 'beauty',
    role: 'beauty',
    part: 0,
    channels: channels.map((c) => ({ component: c, name: c, type: 'float' })),
  };
  return {
    ...common,
    width,
    height,
    displayWindow: window,
    dataWindow: window,
    pixelAspect: picture.pixelAspect ?? 1,
    rate: picture.rate ?? null,
    rateFrom: picture.rateFrom ?? null,
    timecode: picture.timecode ?? null,
    codec: picture.codec,
    sampleType,
    alpha: picture.alpha,
    passes: [pass],
    parts: 1,
    attributes: picture.attributes ?? {},
    layout: [`${channels.join(', ')}; ${sampleType}, ${picture.codec}`],
    evidence: [...evidence, kindEvidence(common.kind, sampleType, evidence.length > 0)],
    view: null,
    missingChunks: 0,
    readable: 1,
    frames: picture.frames ?? null,
    notes: picture.notes ?? [],
    range: picture.range ?? null,
  };
}
