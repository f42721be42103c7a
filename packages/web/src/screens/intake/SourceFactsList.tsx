import { timecodeOfFrame } from '@june-haze/core';
import type { Shot, Source } from '@june-haze/contract';
import { ProofMark } from '../../proof/ProofMark.tsx';
import { useShotChange } from '../../api/shots.ts';
import { isLog } from '../../colour/isLog.ts';
import { frameCount } from './frames.ts';

const megabytes = (n: number) => `${(n / 1e6).toFixed(n < 1e6 ? 2 : 1)} MB`;
const moment = (ms: number) => new Date(ms).toISOString().slice(0, 16).replace('T', ' ');

/** What the files say of themselves, in one column of names and values. */
export function SourceFactsList({ shot, source }: { shot: Shot; source: Source }) {
  const count = frameCount(source);
  const rate = source.rate ?? shot.rate;
  const channels = source.passes.reduce((n, p) => n + p.channels.length, 0);
  const same =
    JSON.stringify(source.dataWindow) === JSON.stringify(source.displayWindow) ? 'all of the picture' : undefined;
  const { dataWindow: d } = source;
  const facts: [string, string | undefined][] = [
    ['length', source.still ? undefined : `${count} frames, ${timecodeOfFrame(count, rate)} at ${rate} fps`],
    [
      'rate from',
      source.still
        ? undefined
        : source.rate === null
          ? 'nothing says; the shot’s is taken'
          : (source.rateFrom ?? 'you'),
    ],
    ['begins at', source.timecode ?? undefined],
    ['size', `${source.width}×${source.height}, pixel aspect ${Number(source.pixelAspect.toFixed(4))}`],
    ['data window', same ?? (d ? `${d.xMin}, ${d.yMin} to ${d.xMax}, ${d.yMax}` : undefined)],
    ['stored as', `${source.sampleType}, ${source.compression}; ${megabytes(source.bytesPerFrame)} a frame`],
    ['channels', `${channels} in ${source.passes.length} ${source.passes.length === 1 ? 'pass' : 'passes'}`],
    ['alpha', source.alpha],
    ['goes back', isLog(source.declaredSpace) ? `an EXR output can be in ${source.declaredSpace} again` : undefined],
    [
      'files from',
      source.firstTime && source.lastTime
        ? source.lastTime - source.firstTime < 60_000
          ? moment(source.firstTime)
          : `${moment(source.firstTime)} to ${moment(source.lastTime)}`
        : undefined,
    ],
    [
      'pixels seen',
      source.still
        ? undefined
        : source.measuredFull
          ? 'of every frame'
          : source.measuredFrames.length
            ? `of ${source.measuredFrames.length} ${source.measuredFrames.length === 1 ? 'frame' : 'frames'}`
            : undefined,
    ],
  ];
  return (
    <div className="source-facts small">
      {facts
        .filter(([, value]) => value !== undefined)
        .map(([name, value]) => [
          <span key={name} className="quiet">
            {name}
          </span>,
          <span key={`${name} value`}>{value}</span>,
        ])}
      {source.notes.map((n) => (
        <span key={n} style={{ gridColumn: '1 / -1' }}>
          {n}
        </span>
      ))}
    </div>
  );
}

/** Evidence for and against the declared space, each piece with its shape and word. */
export function EvidenceList({ source }: { source: Source }) {
  const change = useShotChange();
  return (
    <div className="small" style={{ lineHeight: '18px' }}>
      <span className="strong">Evidence</span>
      {source.confirmedBy && (
        <div>
          Confirmed by a rule: <span className="quiet">{source.confirmedBy}</span>
        </div>
      )}
      {source.evidence.map((e, i) => (
        <div key={i} style={{ display: 'flex', gap: 6, alignItems: 'baseline' }}>
          <ProofMark state={e.agrees === undefined ? 'unproved' : e.agrees ? 'proved' : 'differs'} />
          <span>
            {e.from}: {e.says} {e.agrees === undefined ? '' : e.agrees ? '— agrees' : '— contradicts'}{' '}
            {e.from === 'saved rule' && (
              <button
                className="plain link quiet"
                onClick={() => change.mutate({ path: `/sources/${source.id}/rule`, method: 'DELETE' })}
              >
                forget this rule
              </button>
            )}
          </span>
        </div>
      ))}
    </div>
  );
}

/** The header's attributes, and how each part lies in the file. */
export function HeaderList({ source }: { source: Source }) {
  return (
    <div>
      <span className="strong small">Stored as</span>
      {source.layout.slice(0, 8).map((line) => (
        <div key={line} className="small">
          {line}
        </div>
      ))}
      {source.layout.length > 8 && <div className="quiet small">and {source.layout.length - 8} more files</div>}
      {Object.keys(source.attributes).length > 0 && <Attributes source={source} />}
    </div>
  );
}

function Attributes({ source }: { source: Source }) {
  return (
    <>
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
    </>
  );
}
