export interface Size {
  readonly width: number;
  readonly height: number;
}

/** Why a file's picture cannot stand in a ledger of another size, as page and server both say it; undefined when it can. */
export function whyNotPlaced(file: string, found: Size, wanted: Size): string | undefined {
  if (found.width === wanted.width && found.height === wanted.height) return undefined;
  const words = ({ width, height }: Size) => `${width}×${height}`;
  return `${file}: it is ${words(found)}, the shot ${words(wanted)}: passes of one ledger must have one size.`;
}
