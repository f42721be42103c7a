import { Button, Select } from 'antd';
import type { ShotColour } from '@june-haze/core';
import type { Shot, Source } from '@june-haze/contract';
import { useMemo, useState } from 'react';
import { useShotChange } from '../../api/shots.ts';
import { thumbnailUrl } from '../../api/thumbnail.ts';
import { SmallPicture } from '../../pictures/SmallPicture.tsx';
import { beautyOf } from '../../viewer/sights.ts';

/** Every source through the present viewing: one that a change makes look wrong is seen here, and its declared space corrected in place. */
export function SourcesStrip({ shot, colour }: { shot: Shot; colour: ShotColour | undefined }) {
  const change = useShotChange();
  /** What a source was declared as before it was changed here. */
  const [before, setBefore] = useState<Pick<Source, 'id' | 'declaredSpace' | 'confirmed'>>();
  const declare = ({ id }: Source, body: Pick<Source, 'declaredSpace' | 'confirmed'>) =>
    change.mutate({ path: `/sources/${id}`, method: 'PATCH', body });
  const options = useMemo(() => (colour?.spaces() ?? []).map((s) => ({ value: s.name, label: s.name })), [colour]);
  return (
    <div className="sources-strip" role="group" aria-label="All sources through this viewing">
      {shot.sources.map((source) => {
        const untouched = source.reading.use === 'reference';
        const frame = Math.min(source.lastFrame, Math.max(source.firstFrame, shot.match.frame));
        return (
          <div key={source.id}>
            <SmallPicture
              className="wide"
              src={thumbnailUrl(source, beautyOf(source), frame, 128, {
                viewing: shot.viewing,
                untouched,
                exposed: true,
              })}
            />
            <span className="clip">{source.name}</span>
            {untouched ? (
              <span className="quiet">reference, untouched</span>
            ) : (
              <Select
                size="small"
                variant="borderless"
                showSearch
                aria-label={`Declared space of ${source.name}`}
                value={source.declaredSpace}
                placeholder="not declared"
                options={options}
                popupMatchSelectWidth={false}
                onChange={(declaredSpace) => {
                  const { id, confirmed } = source;
                  setBefore({ id, declaredSpace: source.declaredSpace, confirmed });
                  declare(source, { declaredSpace, confirmed: true });
                }}
              />
            )}
            {before?.id === source.id && (
              <Button
                size="small"
                title={`Declared as ${before.declaredSpace ?? 'nothing'} again`}
                onClick={() => {
                  const { declaredSpace, confirmed } = before;
                  declare(source, { declaredSpace, confirmed });
                  setBefore(undefined);
                }}
              >
                Take back
              </Button>
            )}
          </div>
        );
      })}
    </div>
  );
}
