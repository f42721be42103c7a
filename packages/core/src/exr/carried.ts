import type { ExrAttribute, ExrPart } from './types.ts';

/** Types of values that mean the same in whatever file they stand. */
const carriedTypes = new Set(
  'string stringvector int float double rational v2i v2f v2d v3i v3f v3d m33f m33d m44f m44d keycode'.split(' '),
);

/**
 * Standard attributes that speak of a file's own make, window, colour or writer (OpenEXR, "Standard attributes" and "Technical
 * Introduction"): another file has its own.
 */
const ofTheFile = new Set(
  (
    'channels compression dataWindow displayWindow lineOrder pixelAspectRatio screenWindowCenter screenWindowWidth tiles type name ' +
    'version chunkCount view multiView preview chromaticities whiteLuminance adoptedNeutral colorInteropID renderingTransform ' +
    'lookModTransform dwaCompressionLevel framesPerSecond timeCode software acesImageContainerFlag originalDataWindow maxSamplesPerPixel ' +
    'deepImageState idManifest envmap wrapmodes xDensity alpha space imageCounter'
  ).split(' '),
);
/** Words of names that no standard has, where they speak of colour, of channels, or of how a file is made (common practice, no source). */
const ownMatter =
  /colou?r|gamma|transfer|primar|lut|look|display|icc|compress|crypto|manifest|channel|window|tile|codec|bits|file|path/i;
/**
 * Of these the ACES container form knows the following (SMPTE ST 2065-4, optional attributes; from memory): a file in that form carries no others.
 */
const ofAces = new Set(
  (
    'altitude aperture capDate comments expTime focus imageRotation isoSpeed keyCode latitude longitude owner reelName utcOffset worldToCamera ' +
    'worldToNDC cameraMake cameraModel cameraSerialNumber cameraLabel cameraUuid lensMake lensModel lensSerialNumber recorderMake ' +
    'recorderModel recorderSerialNumber convergenceDistance interocularDistance'
  ).split(' '),
);
/** Attributes that hold only for a picture of the same frame: they lead from the world to its window. */
const ofTheWindow = new Set(['worldToNDC']);

/**
 * What of a source's attributes still holds in a file that was made from it: when, where and by what it was taken, where the camera stood, what a
 * renderer or a person said of it. Nothing of its colours, channels, windows or make. `whole`: the file shows all of the source's picture; `aces`: it
 * is an ACES container.
 */
export function carriedAttributes(
  { attributes }: Pick<ExrPart, 'attributes'>,
  { whole, aces = false }: { readonly whole: boolean; readonly aces?: boolean },
): Record<string, ExrAttribute> {
  const stays = ([name, { type }]: [string, ExrAttribute]) =>
    carriedTypes.has(type) &&
    !ofTheFile.has(name) &&
    !ownMatter.test(name) &&
    (!aces || ofAces.has(name)) &&
    (whole || !ofTheWindow.has(name));
  return Object.fromEntries([...attributes].filter(stays));
}
