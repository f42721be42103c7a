export interface Size {
  readonly width: number;
  readonly height: number;
}

/** Why a frame's picture cannot stand for its source, as page and server both say it; undefined when it can. */
export function whyOtherSize(file: string, found: Size, wanted: Size): string | undefined {
  if (found.width === wanted.width && found.height === wanted.height) return undefined;
  const words = ({ width, height }: Size) => `${width}×${height}`;
  return `${file}: it is ${words(found)}, its source ${words(wanted)}: the frames and passes of a source must have one size.`;
}
