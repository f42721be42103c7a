import { App, Button, Checkbox } from 'antd';
import type { Shot, Source } from '@june-haze/contract';
import { useShotChange } from '../../api/shots.ts';
import { thumbnailUrl } from '../../api/thumbnail.ts';
import { SmallPicture } from '../../pictures/SmallPicture.tsx';
import { ProofMark } from '../../proof/ProofMark.tsx';
import { badFrames, beautyOf, frameCount, goodFrame, rangeWords } from './frames.ts';
import { PassTiles } from './PassTiles.tsx';
import { ReadingForm } from './ReadingForm.tsx';
import { Relink } from './Relink.tsx';
import { EvidenceList, HeaderList, SourceFactsList } from './SourceFactsList.tsx';
import { TryOn } from './TryOn.tsx';
import { isPicture, UseChoice } from './UseChoice.tsx';

const megabytes = (n: number) => `${(n / 1e6).toFixed(n < 1e6 ? 2 : 1)} MB`;

/** Kinds of problems that speak against the declared space. */
const aboutSpace = ['space-contradiction', 'encoded-as-linear', 'tone-mapped', 'linear-as-picture', 'integer-linear'];

interface Props {
  shot: Shot;
  source: Source;
  chosen: boolean;
  marked: boolean;
  onChoose: () => void;
  onMark: () => void;
  /** Shows a pass in the viewer. */
  onLook: (pass: string) => void;
}

/** One source: a row of the table, and all that is known of it beneath when it is open. */
export function SourceRow({ shot, source, chosen, marked, onChoose, onMark, onLook }: Props) {
  const picture = beautyOf(source);
  const open = source.problems.filter((p) => p.silenced === null);
  const odd = (kind: string) => (open.some((p) => p.kind === kind && p.pass === null) ? ' odd' : '');
  return (
    <>
      <div className={`source-line${chosen ? ' chosen' : ''}`}>
        <Checkbox aria-label={`Mark ${source.name}`} checked={marked} onChange={onMark} />
        <button className={`plain source${chosen ? ' chosen' : ''}`} aria-expanded={chosen} onClick={onChoose}>
          {picture ? (
            <SmallPicture
              first
              src={thumbnailUrl(source, picture.name, goodFrame(source), 128, {
                viewing: shot.viewing,
                untouched: source.reading.use === 'reference',
              })}
            />
          ) : (
            <span />
          )}
          <div style={{ minWidth: 0 }}>
            <div className="clip">{source.name}</div>
            <div className="quiet small clip">{underName(source)}</div>
          </div>
          <div className="number" style={{ fontSize: 11.5 }}>
            {rangeWords(source)}
            <GapBar source={source} />
          </div>
          <span className={`number${odd('size-mismatch')}`}>
            {source.width}×{source.height}
          </span>
          <span className={`number${odd('rate-mismatch')}`}>
            {source.rate === null ? '—' : Number(source.rate.toFixed(3))}
          </span>
          <div>
            {source.sampleType}, {source.compression.toUpperCase()}
            <div className="number quiet small">{megabytes(source.bytesPerFrame)}</div>
          </div>
          <SpaceCell source={source} contradicted={open.some((p) => aboutSpace.includes(p.kind))} />
        </button>
      </div>
      {chosen && <Unfolded shot={shot} source={source} onLook={onLook} />}
    </>
  );
}

function underName(source: Source): string {
  const { check } = source;
  if (check.stage === 'waiting') return 'waits to be looked at';
  if (check.stage === 'headers') return `looking at headers, ${check.done} of ${check.count}`;
  if (check.stage === 'pixels') return `looking at pixels, ${check.done} of ${check.count} frames`;
  const passes = source.files
    ? `${source.passes.length} passes, one file each`
    : source.passes.length === 1
      ? 'one pass'
      : `${source.passes.length} passes in ${new Set(source.passes.map((p) => p.part)).size === 1 ? 'one part' : 'several parts'}`;
  return [
    ...(source.reading.use === 'reference' ? ['reference, shown untouched'] : [passes]),
    ...(source.view ? [`${source.view} eye`] : []),
    ...(source.version !== null ? [`version ${source.version}`] : []),
    ...(source.growing.length ? ['still being written'] : []),
    source.folder,
  ].join(' · ');
}

/** Frames as small marks, bad ones hollow; long sequences in as many marks as fit. */
function GapBar({ source }: { source: Source }) {
  if (source.still) return null;
  const bad = badFrames(source);
  const growing = new Set(source.growing);
  const count = Math.floor((source.lastFrame - source.firstFrame) / source.step) + 1;
  const marks = Math.min(count, 60);
  const of = (i: number) => {
    const [from, to] = [Math.floor((i * count) / marks), Math.max(Math.floor(((i + 1) * count) / marks), 1)];
    const frames = Array.from({ length: to - from }, (_, k) => source.firstFrame + (from + k) * source.step);
    return frames.some((f) => bad.has(f)) ? 'bad' : frames.some((f) => growing.has(f)) ? 'growing' : '';
  };
  return (
    <div className="gapbar" aria-hidden="true">
      {Array.from({ length: marks }, (_, i) => (
        <i key={i} className={of(i)} />
      ))}
    </div>
  );
}

/** The strongest evidence that agrees; what speaks of the primaries alone comes last. */
function strongest({ evidence }: Source) {
  return evidence.find((e) => e.agrees && e.about !== 'primaries') ?? evidence.find((e) => e.agrees);
}

function SpaceCell({ source, contradicted }: { source: Source; contradicted: boolean }) {
  const state = contradicted ? 'differs' : source.confirmed ? 'proved' : 'unproved';
  const how = source.confirmedBy
    ? 'confirmed by a rule'
    : source.confirmed
      ? 'confirmed'
      : source.declaredSpace
        ? `guessed, ${Math.round(source.confidence * 100)} %`
        : 'nothing says';
  return (
    <div style={{ minWidth: 0 }}>
      <div style={{ display: 'flex', gap: 6, alignItems: 'center' }}>
        <ProofMark state={state} />
        <span className={`clip${source.confirmed ? '' : ' guess'}`}>{source.declaredSpace ?? 'not declared'}</span>
      </div>
      <div className="quiet small clip">
        {how}, {strongest(source)?.from ?? 'no evidence agrees'}
      </div>
    </div>
  );
}

function Unfolded({ shot, source, onLook }: Pick<Props, 'shot' | 'source' | 'onLook'>) {
  const change = useShotChange();
  const { modal } = App.useApp();
  const checking = source.check.stage !== 'done' && source.check.stage !== 'failed';
  const takeOut = () =>
    modal.confirm({
      title: `Take ${source.name} out of the shot?`,
      content:
        'What was declared of it goes; its files stay where they are. Entries that use it cannot be evaluated then.',
      okText: 'Take out',
      onOk: () => change.mutate({ path: `/sources/${source.id}`, method: 'DELETE' }),
    });
  return (
    <div className="unfolded">
      <ReadingForm shot={shot} sources={[source]} />
      {source.passes.length > 1 && <PassTiles shot={shot} source={source} frame={goodFrame(source)} onLook={onLook} />}
      {source.reading.use === 'plate' && <TryOn shot={shot} source={source} />}
      {isPicture(source) && <UseChoice shot={shot} source={source} />}
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 18 }}>
        <div>
          <EvidenceList source={source} />
          <div style={{ marginTop: 8 }}>
            <SourceFactsList shot={shot} source={source} />
          </div>
        </div>
        <HeaderList source={source} />
      </div>
      <div style={{ display: 'flex', gap: 8, flexWrap: 'wrap' }}>
        <Button size="small" onClick={() => onLook(beautyOf(source)?.name ?? source.passes[0]?.name ?? '')}>
          Look at it
        </Button>
        <Button
          size="small"
          loading={checking}
          onClick={() => change.mutate({ path: `/sources/${source.id}/examine`, method: 'POST' })}
        >
          Look at the files again
        </Button>
        {source.measuredFrames.length < frameCount(source) && (
          <Button
            size="small"
            disabled={checking}
            onClick={() => change.mutate({ path: `/sources/${source.id}/examine?full=1`, method: 'POST' })}
          >
            Look at every frame’s pixels
          </Button>
        )}
        <Relink source={source} />
        <Button size="small" onClick={takeOut}>
          Take out of the shot
        </Button>
      </div>
    </div>
  );
}
