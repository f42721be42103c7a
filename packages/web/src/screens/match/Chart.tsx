import { Button, Select, Switch } from 'antd';
import { useMutation } from '@tanstack/react-query';
import { dataRoles, type ShotColour } from '@june-haze/core';
import { chartAnswerSchema, type ChartAnswer, type ChartRequest, type Shot } from '@june-haze/contract';
import { useEffect, useMemo, useState } from 'react';
import { request } from '../../api/request.ts';
import { useShotChange } from '../../api/shots.ts';
import type { PictureDot } from '../../viewer/Dots.tsx';
import { PatchTable } from './PatchTable.tsx';
import { RowsSelect, useRows, withFit } from './rowsToChange.tsx';
import { WriteLut } from './WriteLut.tsx';

interface Props {
  readonly shot: Shot;
  /** The pixels that are pinned in the picture: the first four are the chart's corners. */
  readonly pins: () => readonly (readonly [number, number])[];
  readonly colour: ShotColour | undefined;
  /** What each patch is off by, to be shown on the picture. */
  readonly onDots: (dots: readonly PictureDot[]) => void;
}

/** An offset is offered where it leaves less than this share. */
const offered = 0.6;

type Settings = Omit<ChartRequest, 'corners'>;
const atFirst: Settings = { targetPass: null, without: [], keepsExposure: false, withOffset: false };
const pinFirst =
  'Pin the four corners of the field of patches first (P, then Shift+P at each): top left, top right, bottom right, bottom left.';

/** A chart of 24 patches, placed by four pins: measured, brought to its targets by a matrix, which is set on rows of the ledger. */
export function Chart({ shot, pins, colour, onDots }: Props) {
  const change = useShotChange();
  const choice = useRows(shot.ledger.document);
  const { into } = choice;
  const [problem, setProblem] = useState<string>();
  const [settings, setSettings] = useState(atFirst);
  const measure = useMutation({
    mutationFn: (body: ChartRequest) => request(chartAnswerSchema, `/shots/${shot.id}/match/chart`, 'POST', body),
  });
  const begin = (more: Partial<Settings> = {}) => {
    const next = { ...settings, ...more };
    setSettings(next);
    // The middle of each pinned pixel.
    const [a, b, c, d] = pins().map(([x, y]) => [x + 0.5, y + 0.5] as const);
    const placed = a && b && c && d;
    setProblem(placed ? undefined : pinFirst);
    if (placed) measure.mutate({ corners: [a, b, c, d], ...next });
  };
  const source = shot.sources.find((s) => s.id === shot.match.source);
  const targets = [
    { value: '', label: 'the published table' },
    ...(source?.passes ?? [])
      .filter((p) => !dataRoles.has(p.role) && p.name !== shot.match.pass)
      .map((p) => ({ value: p.name, label: `the same chart in ${p.name}` })),
  ];
  const found = measure.data;
  const dots = useMemo(() => (found ? dotsOf(found, settings.without) : []), [found, settings.without]);
  useEffect(() => {
    onDots(dots);
    return () => onDots([]);
  }, [dots, onDots]);
  const set = () => {
    if (!found) return;
    const { document, revision } = shot.ledger;
    change.mutate({
      path: `/shots/${shot.id}/ledger`,
      method: 'PUT',
      body: { base: revision, document: withFit(document, into, found), summary: 'solved by a chart' },
    });
  };
  const said = problem ?? measure.error?.message;
  return (
    <section className="chart-panel" aria-label="Chart">
      <div className="bar">
        <span className="strong">Chart</span>
        <span className="quiet clip">24 patches: pin the corners of their field, clockwise from top left</span>
        <span className="grow" />
        <Button size="small" loading={measure.isPending} onClick={() => begin()}>
          Measure the chart
        </Button>
      </div>
      {said !== undefined && (
        <p className="inside problem" role="alert">
          {said}
        </p>
      )}
      {found && (
        <div className="inside">
          <p role="status">
            CIEDE2000 on average <span className="number">{found.averageBefore.toFixed(2)}</span> with exposure alone,{' '}
            <span className="number">{found.averageAfter.toFixed(2)}</span> with the matrix.
            {found.averageWithOffset < offered * found.averageAfter && (
              <>
                {' '}
                Light lies over the chart: with an offset it is{' '}
                <span className="number">{found.averageWithOffset.toFixed(2)}</span>.
              </>
            )}
          </p>
          <div className="view-file">
            <label htmlFor="chart-target">targets are</label>
            <Select
              id="chart-target"
              size="small"
              value={settings.targetPass ?? ''}
              options={targets}
              onChange={(pass: string) => begin({ targetPass: pass || null })}
            />
            <label htmlFor="chart-exposure">brightness</label>
            <span>
              <Switch
                id="chart-exposure"
                size="small"
                checked={settings.keepsExposure}
                onChange={(keepsExposure) => begin({ keepsExposure })}
              />{' '}
              stays as it is
            </span>
            <label htmlFor="chart-offset">haze or flare</label>
            <span>
              <Switch
                id="chart-offset"
                size="small"
                checked={settings.withOffset}
                onChange={(withOffset) => begin({ withOffset })}
              />{' '}
              is taken off as an offset{into.length > 1 && settings.withOffset ? ', on the last row' : ''}
            </span>
            <label htmlFor="chart-rows">on</label>
            <RowsSelect id="chart-rows" {...choice} />
          </div>
          <PatchTable
            found={found}
            published={settings.targetPass === null}
            without={settings.without}
            onWithout={(without) => begin({ without: [...without] })}
          />
          <div className="bar">
            <Button size="small" type="primary" disabled={!into.length} onClick={set}>
              Set on {into.length} {into.length === 1 ? 'row' : 'rows'}
            </Button>
            <WriteLut
              title="Write this matrix as a file"
              path={`/shots/${shot.id}/matrix-file`}
              more={{ matrix: found.matrix, offset: found.offset }}
              atFirst={{ space: shot.workingSpace, size: 33, kind: 'spimtx' }}
              colour={colour}
            >
              A matrix takes and gives light of {shot.workingSpace}; a cube takes and gives numbers of a log space.
            </WriteLut>
          </div>
        </div>
      )}
    </section>
  );
}

/** A dot on each patch with what it is off by once the matrix is set. */
const dotsOf = ({ patches, after }: ChartAnswer, without: readonly number[]): PictureDot[] =>
  patches.map(({ at, clipped }, i) => ({
    at,
    words: without.includes(i) || clipped > 0 ? '–' : after[i]!.toFixed(after[i]! < 9.95 ? 1 : 0),
  }));
