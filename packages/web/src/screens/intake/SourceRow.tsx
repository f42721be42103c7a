import { Button, Select } from 'antd';
import { dataRoles, type ShotColour } from '@june-haze/core';
import type { Shot, Source } from '@june-haze/contract';
import { useShotColour } from '../../api/colour.ts';
import { useShotChange } from '../../api/shots.ts';
import { thumbnailUrl } from '../../api/thumbnail.ts';
import { PassTiles } from './PassTiles.tsx';
import { ProofMark } from '../../proof/ProofMark.tsx';

const megabytes = (n: number) => `${(n / 1e6).toFixed(1)} MB`;

/** A frame whose file is sound, for pictures of the source. */
function goodFrame(source: Source): number {
  const bad = new Set([...source.missing, ...source.damaged.map((d) => d.frame)]);
  for (let f = source.firstFrame; f <= source.lastFrame; f++) if (!bad.has(f)) return f;
  return source.firstFrame;
}

const beautyOf = (source: Source) =>
  source.passes.find((p) => p.role === 'beauty') ??
  source.passes.find((p) => !dataRoles.has(p.role)) ??
  source.passes[0];

/** `1001–1024, 2 bad`; one frame alone is named once. */
function rangeWords(source: Source): string {
  if (source.still) return 'still';
  const bad = new Set([...source.missing, ...source.damaged.map((d) => d.frame)]).size;
  const range =
    source.firstFrame === source.lastFrame ? `${source.firstFrame}` : `${source.firstFrame}–${source.lastFrame}`;
  return bad ? `${range}, ${bad} bad` : range;
}

interface Props {
  shot: Shot;
  source: Source;
  chosen: boolean;
  onChoose: () => void;
}

export function SourceRow({ shot, source, chosen, onChoose }: Props) {
  const picture = beautyOf(source);
  const frame = goodFrame(source);
  const bad = new Set([...source.missing, ...source.damaged.map((d) => d.frame)]);
  const count = source.lastFrame - source.firstFrame + 1;
  const contradicted = source.evidence.some((e) => e.agrees === false && e.from !== 'kind of file');
  return (
    <>
      <button className={`plain source${chosen ? ' chosen' : ''}`} aria-expanded={chosen} onClick={onChoose}>
        {picture ? (
          <img
            className="thumb"
            src={thumbnailUrl(source.id, picture.name, frame, 128, { viewing: shot.viewing })}
            alt=""
          />
        ) : (
          <span />
        )}
        <div style={{ minWidth: 0 }}>
          <div className="clip">{source.name}</div>
          <div className="quiet small clip">
            {source.passes.length} passes in{' '}
            {new Set(source.passes.map((p) => p.part)).size === 1 ? 'one part' : 'several parts'} · {source.folder}
          </div>
        </div>
        <div className="number" style={{ fontSize: 11.5 }}>
          {rangeWords(source)}
          <div className="gapbar" aria-hidden="true">
            {!source.still &&
              count <= 200 &&
              Array.from({ length: count }, (_, i) => (
                <i key={i} className={bad.has(source.firstFrame + i) ? 'bad' : ''} />
              ))}
          </div>
        </div>
        <span className="number">
          {source.width}×{source.height}
        </span>
        <span className="number">{source.rate ?? '—'}</span>
        <div>
          {source.sampleType}, {source.compression.toUpperCase()}
          <div className="number quiet small">{megabytes(source.bytesPerFrame)}</div>
        </div>
        <div style={{ minWidth: 0 }}>
          <div style={{ display: 'flex', gap: 6, alignItems: 'center' }}>
            <ProofMark state={source.confirmed ? (contradicted ? 'differs' : 'proved') : 'unproved'} />{' '}
            <span className="clip">{source.declaredSpace ?? 'not declared'}</span>
          </div>
          <div className="quiet small clip">
            {source.confirmed ? 'confirmed' : 'guessed'}, {source.evidence[0]?.from}
          </div>
        </div>
      </button>
      {chosen && <Unfolded shot={shot} source={source} frame={frame} />}
    </>
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
  for (const s of colour?.spaces() ?? []) {
    const label = s.origin === 'builtin' ? (families[s.family] ?? s.family) : s.family || 'Config';
    groups.set(label, [...(groups.get(label) ?? []), { value: s.name, label: s.name, title: s.about }]);
  }
  return [...groups].map(([label, options]) => ({ label, options }));
}

function Unfolded({ shot, source, frame }: { shot: Shot; source: Source; frame: number }) {
  const change = useShotChange();
  const picture = beautyOf(source);
  const { data: colour } = useShotColour(shot.colour);
  const declare = (declaredSpace: string) =>
    change.mutate({ path: `/sources/${source.id}`, method: 'PATCH', body: { declaredSpace, confirmed: true } });
  const tried = ['ACEScg', 'Linear Rec.709', 'ACES2065-1', 'Linear Rec.2020', 'sRGB', 'Rec.709'];
  return (
    <div className="unfolded">
      <PassTiles shot={shot} source={source} frame={frame} />
      {picture && (
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
                <img src={thumbnailUrl(source.id, picture.name, frame, 192, { space, viewing: shot.viewing })} alt="" />
                <span>{space}</span>
                <span className="quiet">
                  {source.declaredSpace === space ? (source.confirmed ? 'declared' : 'guessed') : ' '}
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
          </div>
        </div>
      )}
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 18 }}>
        <div className="small" style={{ lineHeight: '18px' }}>
          <span className="strong">Evidence</span>
          {source.evidence.map((e, i) => (
            <div key={i} style={{ display: 'flex', gap: 6, alignItems: 'center' }}>
              <ProofMark state={e.agrees === undefined ? 'unproved' : e.agrees ? 'proved' : 'differs'} />
              <span>
                {e.from}: {e.says} {e.agrees === undefined ? '' : e.agrees ? '— agrees' : '— contradicts'}
              </span>
            </div>
          ))}
        </div>
        <div>
          <span className="strong small">Stored as</span>
          {source.layout.map((line) => (
            <div key={line} className="small">
              {line}
            </div>
          ))}
          <span className="strong small">Header</span>
          <div className="attributes number" tabIndex={0} role="region" aria-label="Header attributes">
            {Object.entries(source.attributes).map(([key, value]) => [
              <span key={key} className="quiet">
                {key}
              </span>,
              <span key={`${key} value`} className="clip" title={value}>
                {value}
              </span>,
            ])}
          </div>
        </div>
      </div>
      <div style={{ display: 'flex', gap: 8 }}>
        <Button size="small" onClick={() => change.mutate({ path: `/sources/${source.id}/examine`, method: 'POST' })}>
          Look at the files again
        </Button>
        <Button size="small" onClick={() => change.mutate({ path: `/sources/${source.id}`, method: 'DELETE' })}>
          Take out of the shot
        </Button>
      </div>
    </div>
  );
}
