import { Select } from 'antd';
import { findSpace, kindNames, type ShotColour } from '@june-haze/core';
import type { Shot, Source } from '@june-haze/contract';
import { useShotColour } from '../../api/colour.ts';
import { useShotChange } from '../../api/shots.ts';
import { thumbnailUrl } from '../../api/thumbnail.ts';
import { SmallPicture } from '../../pictures/SmallPicture.tsx';
import { beautyOf, goodFrame } from './frames.ts';

const shownSpaces = 6;
const usual = {
  linear: ['ACEScg', 'Linear Rec.709', 'ACES2065-1', 'Linear Rec.2020', 'sRGB', 'Rec.709'],
  picture: ['sRGB', 'Rec.709', 'BT.1886', 'Linear Rec.709', 'ACEScg', 'Display P3'],
  log: ['LogC3', 'LogC4', 'S-Log3 S-Gamut3.Cine', 'V-Log', 'Log3G10', 'Rec.709', 'ACEScct'],
};

/** The most plausible spaces of a source: what evidence names, what is declared, then the usual ones of its kind. */
export function plausibleSpaces(source: Source): string[] {
  const log = source.fileKind === 'dpx' || findSpace(source.declaredSpace ?? '')?.family === 'log';
  const picture = ['png', 'jpeg', 'movie'].includes(source.fileKind);
  // Primaries of a picture name a linear space that it is not in.
  const telling = source.evidence.filter((e) => !(picture && e.about === 'primaries'));
  const named = telling.flatMap((e) => (e.space === undefined ? [] : [findSpace(e.space)?.name ?? e.space]));
  const likely = source.evidence.some((e) => e.about === 'encoded') ? ['sRGB'] : [];
  const all = [...likely, ...named, ...(log ? usual.log : picture ? usual.picture : usual.linear)];
  return [...new Set(all)].slice(0, shownSpaces);
}

/** The same frame as if its numbers were in each plausible space, to pick by looking. */
export function TryOn({ shot, source }: { shot: Shot; source: Source }) {
  const change = useShotChange();
  const { data: colour } = useShotColour(shot.colour);
  const picture = beautyOf(source);
  if (!picture) return null;
  const frame = goodFrame(source);
  const tried = plausibleSpaces(source);
  const declare = (declaredSpace: string) =>
    change.mutate({ path: `/sources/${source.id}`, method: 'PATCH', body: { declaredSpace, confirmed: true } });
  return (
    <div>
      <span className="strong">Try on</span>{' '}
      <span className="quiet">
        the same frame as if its numbers were in each space, through this shot’s viewing; pick one to declare it
      </span>
      <div className="tryon" role="group" aria-label="Declared space">
        {tried.map((space) => (
          <button
            key={space}
            className={`plain${source.declaredSpace === space ? ' chosen' : ''}`}
            aria-pressed={source.declaredSpace === space && source.confirmed}
            onClick={() => declare(space)}
          >
            <SmallPicture
              className="wide"
              src={thumbnailUrl(source, picture.name, frame, 192, { space, viewing: shot.viewing })}
            />
            <span className="clip">{space}</span>
            <span className="quiet">
              {source.declaredSpace === space
                ? source.confirmed
                  ? 'declared'
                  : `guessed, ${Math.round(source.confidence * 100)} %`
                : ' '}
            </span>
          </button>
        ))}
      </div>
      <div style={{ display: 'flex', gap: 8, marginTop: 8, alignItems: 'center' }}>
        <label className="quiet small" htmlFor={`space-${source.id}`}>
          or another space
        </label>
        <Select
          id={`space-${source.id}`}
          size="small"
          showSearch
          style={{ width: 260 }}
          placeholder="all spaces"
          value={tried.includes(source.declaredSpace ?? '') ? null : source.declaredSpace}
          options={spaceGroups(colour)}
          onChange={declare}
        />
        {source.declaredSpace && source.confirmed && !source.confirmedBy && (
          <RememberRule shot={shot} source={source} space={source.declaredSpace} />
        )}
      </div>
    </div>
  );
}

/** "PNG pictures in this folder are sRGB": said once, evidence from then on. */
function RememberRule({ source, space }: { shot: Shot; source: Source; space: string }) {
  const change = useShotChange();
  return (
    <button
      className="plain quiet small link"
      title={`From now on, ${kindNames[source.fileKind]} in ${source.folder} are declared ${space} when they are brought in`}
      onClick={() =>
        change.mutate({
          path: `/sources/${source.id}/rule`,
          method: 'POST',
          body: { folder: source.folder, fileKind: source.fileKind, space },
        })
      }
    >
      Remember for {kindNames[source.fileKind]} in this folder
    </button>
  );
}

const families: Readonly<Record<string, string>> = {
  'scene-linear': 'Linear',
  log: 'Log',
  display: 'Display',
  data: 'Data',
};

/** Spaces to choose from: the config's own by family, then built-in ones by kind, then LUTs of the Library. */
function spaceGroups(colour: ShotColour | undefined) {
  const groups = new Map<string, { value: string; label: string; title: string }[]>();
  for (const s of colour ? [...colour.spaces(), ...colour.undoneViews()] : []) {
    const label = s.origin === 'builtin' ? (families[s.family] ?? s.family) : s.family || 'Config';
    groups.set(label, [...(groups.get(label) ?? []), { value: s.name, label: s.name, title: s.about }]);
  }
  return [...groups].map(([label, options]) => ({ label, options }));
}
