import { Select } from 'antd';
import type { ShotColour } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useMemo } from 'react';
import { useShotChange } from '../../api/shots.ts';
import { thumbnailUrl } from '../../api/thumbnail.ts';
import { SmallPicture } from '../../pictures/SmallPicture.tsx';
import { beautyOf } from '../../viewer/sights.ts';

/** Every source through the present viewing: one that a change makes look wrong is seen here, and its declared space corrected in place. */
export function SourcesStrip({ shot, colour }: { shot: Shot; colour: ShotColour | undefined }) {
  const change = useShotChange();
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
                onChange={(declaredSpace) =>
                  change.mutate({
                    path: `/sources/${source.id}`,
                    method: 'PATCH',
                    body: { declaredSpace, confirmed: true },
                  })
                }
              />
            )}
          </div>
        );
      })}
    </div>
  );
}
