import { findSpace } from '@june-haze/core';
import type { Shot, Source } from '@june-haze/contract';
import { useShotChange } from '../../api/shots.ts';
import { thumbnailUrl } from '../../api/thumbnail.ts';
import { beautyOf, goodFrame } from './frames.ts';

/** Whether a source's numbers are codes of a picture: then it can be a reference. */
export const isPicture = (source: Source): boolean =>
  (source.declaredSpace !== null && findSpace(source.declaredSpace)?.family === 'display') ||
  ['png', 'jpeg'].includes(source.fileKind);

/** A picture is a plate or a reference: what either means, with both shown. */
export function UseChoice({ shot, source }: { shot: Shot; source: Source }) {
  const change = useShotChange();
  const pass = beautyOf(source);
  if (!pass) return null;
  const frame = goodFrame(source);
  const choices = [
    {
      use: 'plate' as const,
      title: 'Plate',
      about: `Converted from ${source.declaredSpace ?? 'its space'} into ${shot.workingSpace}; part of the picture, seen through the view.`,
      url: thumbnailUrl(source.id, pass.name, frame, 192, { viewing: shot.viewing }),
    },
    {
      use: 'reference' as const,
      title: 'Reference',
      about: 'Shown untouched, as it was saved; what the picture is to look like. Never summed.',
      url: thumbnailUrl(source.id, pass.name, frame, 192, { viewing: shot.viewing, untouched: true }),
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
            key={c.use}
            className={`plain${source.reading.use === c.use ? ' chosen' : ''}`}
            aria-pressed={source.reading.use === c.use}
            onClick={() =>
              change.mutate({
                path: `/sources/${source.id}`,
                method: 'PATCH',
                body: { reading: { use: c.use } },
              })
            }
          >
            <img src={c.url} alt="" />
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
