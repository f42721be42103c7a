import { findSpace, undoneDisplay, undoneName } from '@june-haze/core';
import type { Shot, Source } from '@june-haze/contract';
import { useShotChange } from '../../api/shots.ts';
import { thumbnailUrl } from '../../api/thumbnail.ts';
import { beautyOf, goodFrame } from './frames.ts';
import { SmallPicture } from '../../pictures/SmallPicture.tsx';

/** Whether a source's numbers are codes of a picture: then it can be a reference. */
export const isPicture = (source: Source): boolean =>
  (source.declaredSpace !== null &&
    (findSpace(source.declaredSpace)?.family === 'display' || undoneDisplay(source.declaredSpace) !== undefined)) ||
  ['png', 'jpeg'].includes(source.fileKind);

/** A picture is a plate or a reference: what either means, with both shown. */
export function UseChoice({ shot, source }: { shot: Shot; source: Source }) {
  const change = useShotChange();
  const pass = beautyOf(source);
  if (!pass) return null;
  const frame = goodFrame(source);
  const undone = undoneName(shot.viewing.display, shot.viewing.view);
  const isUndone = undoneDisplay(source.declaredSpace ?? '') !== undefined;
  const encoding = isUndone ? 'sRGB' : source.declaredSpace;
  const choices = [
    {
      key: 'plate',
      chosen: source.reading.use === 'plate' && !isUndone,
      change: { reading: { use: 'plate' }, ...(isUndone ? { declaredSpace: 'sRGB' } : {}) },
      title: 'Plate',
      about: `Its encoding is undone, ${encoding ?? 'its space'} to ${shot.workingSpace}: for photographs and textures.`,
      url: thumbnailUrl(source, pass.name, frame, 192, {
        viewing: shot.viewing,
        ...(encoding ? { space: encoding } : {}),
      }),
    },
    {
      key: 'undone',
      chosen: source.reading.use === 'plate' && isUndone,
      change: { reading: { use: 'plate' }, declaredSpace: undone, confirmed: true },
      title: 'Plate, view undone',
      about: `${shot.viewing.display} / ${shot.viewing.view} is undone too: for a render saved with that view. What it cut off is gone.`,
      url: thumbnailUrl(source, pass.name, frame, 192, { viewing: shot.viewing, space: undone }),
    },
    {
      key: 'reference',
      chosen: source.reading.use === 'reference',
      change: { reading: { use: 'reference' } },
      title: 'Reference',
      about: 'Shown untouched, as it was saved; what the picture is to look like. Never summed.',
      url: thumbnailUrl(source, pass.name, frame, 192, { viewing: shot.viewing, untouched: true }),
    },
  ];
  return (
    <div>
      <span className="strong">Used as</span>{' '}
      <span className="quiet">
        a picture that was saved with its view baked in looks right as a reference and wrong as a plate
      </span>
      <div className="uses" role="group" aria-label="Used as">
        {choices.map((c) => (
          <button
            key={c.key}
            className={`plain${c.chosen ? ' chosen' : ''}`}
            aria-pressed={c.chosen}
            onClick={() => change.mutate({ path: `/sources/${source.id}`, method: 'PATCH', body: c.change })}
          >
            <SmallPicture className="wide" src={c.url} />
            <span>
              <span className="strong">{c.title}</span>
              <br />
              <span className="quiet">{c.about}</span>
            </span>
          </button>
        ))}
      </div>
    </div>
  );
}
