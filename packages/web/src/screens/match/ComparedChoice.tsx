import { InputNumber, Select } from 'antd';
import { dataRoles } from '@june-haze/core';
import type { Shot, Source } from '@june-haze/contract';
import { useShotChange } from '../../api/shots.ts';

interface Props {
  readonly shot: Shot;
  readonly source: Source;
  readonly reference: Source | undefined;
}

/** Which pass and frame is held against which reference. */
export function ComparedChoice({ shot, source, reference }: Props) {
  const change = useShotChange();
  const choose = (match: object) => change.mutate({ path: `/shots/${shot.id}`, method: 'PATCH', body: { match } });
  const references = shot.sources.filter((s) => s.reading.use === 'reference');
  const passes = shot.sources
    .filter((s) => s.reading.use === 'plate')
    .flatMap((s) =>
      s.passes
        .filter((p) => !dataRoles.has(p.role))
        .map((p) => ({ value: JSON.stringify([s.id, p.name]), label: `${p.name} of ${s.name}` })),
    );
  return (
    <>
      <Select
        size="small"
        aria-label="What is compared"
        value={JSON.stringify([source.id, shot.match.pass])}
        options={passes}
        popupMatchSelectWidth={false}
        style={{ width: 150 }}
        onChange={(value) => {
          const [id, pass] = JSON.parse(value) as [string, string];
          choose({ source: id, pass });
        }}
      />
      <label className="quiet small">
        frame{' '}
        <InputNumber
          size="small"
          aria-label="Frame that the reference shows"
          value={shot.match.frame}
          min={source.firstFrame}
          max={source.lastFrame}
          controls={false}
          style={{ width: 56 }}
          onChange={(frame) => frame !== null && choose({ frame: Math.round(frame) })}
        />
      </label>
      {references.length > 1 && (
        <Select
          size="small"
          aria-label="Reference"
          value={reference?.id ?? null}
          options={references.map((s) => ({ value: s.id, label: s.name }))}
          popupMatchSelectWidth={false}
          style={{ width: 120 }}
          onChange={(id) => choose({ reference: id })}
        />
      )}
    </>
  );
}
