import type { ShotColour } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { WriteLut } from './WriteLut.tsx';

const atFirst = { space: 'ACEScct', size: 33, kind: 'cube' } as const;

/** The present display, view and look as a LUT file for other programs, with how far it lies from the exact viewing. */
export function WriteViewing({ shot, colour }: { shot: Shot; colour: ShotColour | undefined }) {
  const { display, view, look, lookFile } = shot.viewing;
  return (
    <WriteLut
      title="Write this viewing as a LUT"
      path={`/shots/${shot.id}/view-file`}
      atFirst={atFirst}
      colour={colour}
    >
      {[display, view, look, lookFile?.name].filter(Boolean).join(' · ')}, for programs that have no config. A cube
      takes numbers of a log space, since light has no end.
    </WriteLut>
  );
}
