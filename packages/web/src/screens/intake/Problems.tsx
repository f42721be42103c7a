import { Button } from 'antd';
import type { Shot } from '@june-haze/contract';
import { useShotChange, type ShotRequest } from '../../api/shots.ts';
import { ProofMark } from '../../proof/ProofMark.tsx';

export interface Problem {
  key: string;
  state: 'fails' | 'differs' | 'unproved';
  title: string;
  about: string;
  remedy?: { label: string; request: ShotRequest };
}

/** What about a shot's sources a person should look at, from what the files' headers say. */
export function problemsOf(shot: Shot): Problem[] {
  return shot.sources.flatMap((source): Problem[] => {
    const again = { label: 'Look again', request: { path: `/sources/${source.id}/examine`, method: 'POST' as const } };
    const found: Problem[] = [];
    if (source.missing.length) {
      found.push({
        key: `${source.id}-missing`,
        state: 'fails',
        title: `${source.missing.length === 1 ? `Frame ${source.missing[0]} is` : `Frames ${source.missing.join(', ')} are`} missing`,
        about: `${source.name}. Files written for them will fail; the others are written.`,
        remedy: again,
      });
    }
    for (const { frame, message } of source.damaged)
      found.push({
        key: `${source.id}-${frame}`,
        state: 'fails',
        title: `Frame ${frame} is damaged`,
        about: message,
        remedy: again,
      });
    if (source.rate !== null && source.rate !== shot.rate) {
      found.push({
        key: `${source.id}-rate`,
        state: 'differs',
        title: `${source.rate} fps in a ${shot.rate} fps shot`,
        about: `${source.name}, from its header`,
        remedy: {
          label: `Take the shot as ${source.rate}`,
          request: { path: `/shots/${shot.id}`, method: 'PATCH', body: { rate: source.rate } },
        },
      });
    }
    if (source.width !== shot.width || source.height !== shot.height) {
      found.push({
        key: `${source.id}-size`,
        state: 'differs',
        title: 'Another size',
        about: `${source.name} is ${source.width}×${source.height}, the shot ${shot.width}×${shot.height}`,
      });
    }
    for (const e of source.evidence.filter((x) => x.agrees === false && x.from !== 'kind of file')) {
      found.push({
        key: `${source.id}-${e.from}`,
        state: 'differs',
        title: `The ${e.from} contradicts`,
        about: `${source.name}: ${e.says}; declared is ${source.declaredSpace ?? 'nothing'}`,
        ...(e.space
          ? {
              remedy: {
                label: `Declare ${e.space}`,
                request: { path: `/sources/${source.id}`, method: 'PATCH' as const, body: { declaredSpace: e.space } },
              },
            }
          : {}),
      });
    }
    if (!source.confirmed) {
      found.push({
        key: `${source.id}-unconfirmed`,
        state: 'unproved',
        title: 'Space not confirmed',
        about: `${source.name}: ${source.declaredSpace ?? 'none'} is a guess from the file`,
        remedy: {
          label: `Confirm ${source.declaredSpace ?? ''}`,
          request: { path: `/sources/${source.id}`, method: 'PATCH', body: { confirmed: true } },
        },
      });
    }
    return found;
  });
}

export function Problems({ problems }: { problems: Problem[] }) {
  const change = useShotChange();
  return problems.map((p) => (
    <div key={p.key} className="problem">
      <span style={{ paddingTop: 3 }}>
        <ProofMark state={p.state} />
      </span>
      <div>
        <span className="strong">{p.title}</span>
        <br />
        <span className="quiet" style={{ overflowWrap: 'anywhere' }}>
          {p.about}
        </span>
        {p.remedy && (
          <>
            <br />
            <Button
              size="small"
              style={{ marginTop: 4 }}
              loading={change.isPending}
              onClick={() => change.mutate(p.remedy!.request)}
            >
              {p.remedy.label}
            </Button>
          </>
        )}
      </div>
    </div>
  ));
}
