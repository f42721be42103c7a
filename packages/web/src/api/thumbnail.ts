import type { Viewing } from '@june-haze/contract';

/**
 * The address of a small picture of one pass, seen through the shot's viewing, or untouched: its codes as they are. `exposed` keeps the shot's trims. The source's stamp stands
 * in it: a picture of files that changed has another address.
 */
export function thumbnailUrl(
  source: { readonly id: string; readonly stamp: string },
  pass: string,
  frame: number,
  width: number,
  more: {
    space?: string;
    viewing?: Viewing;
    untouched?: boolean;
    exposed?: boolean;
    /** A config whose view it is seen through, where that is another than the shot's; null for the built-in one. */
    config?: string | null | undefined;
  } = {},
): string {
  const query = new URLSearchParams({ pass, frame: String(frame), width: String(width), stamp: source.stamp });
  if (more.space) query.set('space', more.space);
  if (more.config !== undefined) query.set('config', more.config ?? '');
  if (more.untouched) query.set('untouched', '1');
  if (more.exposed) query.set('exposed', '1');
  if (more.viewing) {
    if (more.exposed) query.set('trims', trimsOf(more.viewing));
    query.set('display', more.viewing.display);
    query.set('view', more.viewing.view);
    if (more.viewing.look !== null) query.set('look', more.viewing.look);
    // Only to fetch again when it changes: the server knows the shot's look file itself.
    if (more.viewing.lookFile) query.set('lookFile', more.viewing.lookFile.id);
  }
  return `/api/sources/${source.id}/thumbnail?${query.toString()}`;
}

const trimsOf = ({ exposure, black, white, gamma }: Viewing): string => [exposure, black, white, gamma].join(' ');
