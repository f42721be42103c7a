import { App, Button, Input, Progress } from 'antd';
import { stages, type ShotSummary } from '@june-haze/contract';
import { useState } from 'react';
import { Link } from 'react-router';
import { useQueryClient } from '@tanstack/react-query';
import { send } from '../../api/request.ts';
import { shelfKey, useDemo, useShelf } from '../../api/shots.ts';
import { thumbnailUrl } from '../../api/thumbnail.ts';
import { TopLine } from '../../frame/TopLine.tsx';
import { ProofMark } from '../../proof/ProofMark.tsx';
import { FromJob } from './FromJob.tsx';
import { NewShot } from './NewShot.tsx';
import { SmallPicture } from '../../pictures/SmallPicture.tsx';

/** The list of shots. */
export function Shelf() {
  const { data: shots, error } = useShelf();
  const { data: demo } = useDemo();
  const [search, setSearch] = useState('');
  const [naming, setNaming] = useState(false);
  const [reading, setReading] = useState(false);
  const found = shots?.filter((s) => s.name.toLowerCase().includes(search.toLowerCase()));
  const making = demo && demo.count > 0 && demo.done < demo.count;
  return (
    <>
      <TopLine
        title="Shelf"
        facts={
          <Link to="/library" className="to-library">
            Library
          </Link>
        }
      />
      <div className="bar">
        <span className="quiet">
          <span className="number">{shots?.length ?? 0}</span> {shots?.length === 1 ? 'shot' : 'shots'}
        </span>
        {making && (
          <span role="status" style={{ display: 'flex', gap: 8, alignItems: 'center' }}>
            <Progress
              percent={(100 * demo.done) / demo.count}
              showInfo={false}
              size="small"
              style={{ width: 120, margin: 0 }}
              aria-label="Demo frames"
            />
            <span>
              The demo is being traced: <span className="number">{demo.done}</span> of{' '}
              <span className="number">{demo.count}</span> frames are there
            </span>
          </span>
        )}
        <span className="grow" />
        <Input
          size="small"
          allowClear
          placeholder="Find a shot"
          aria-label="Find a shot"
          style={{ width: 200 }}
          value={search}
          onChange={(e) => setSearch(e.target.value)}
        />
        <Button size="small" onClick={() => setReading(true)}>
          From a job file
        </Button>
        <Button size="small" type="primary" onClick={() => setNaming(true)}>
          New shot
        </Button>
      </div>
      <main className="scroll shelf">
        {error && <div className="empty">{error.message}</div>}
        {found?.map((shot) => (
          <ShotRow key={shot.id} shot={shot} />
        ))}
        {found?.length === 0 && (
          <div className="empty">
            {search
              ? `No shot has "${search}" in its name.`
              : making || demo?.count === 0
                ? 'The first demo frames take about ten seconds. Or begin with a new shot and bring a sequence in.'
                : 'Begin with a new shot, then bring a sequence in.'}
          </div>
        )}
      </main>
      <NewShot open={naming} onClose={() => setNaming(false)} />
      <FromJob open={reading} onClose={() => setReading(false)} />
    </>
  );
}

function ShotRow({ shot }: { shot: ShotSummary }) {
  const { modal, message } = App.useApp();
  const queries = useQueryClient();
  const remove = () =>
    modal.confirm({
      title: `Take ${shot.name} off the shelf?`,
      content: 'Its ledger, outputs and proofs are deleted. Source files and written files stay where they are.',
      okText: 'Take off',
      okButtonProps: { danger: true },
      onOk: async () => {
        await send(`/shots/${shot.id}`, 'DELETE').catch((e: Error) => message.error(e.message));
        await queries.invalidateQueries({ queryKey: shelfKey });
      },
    });
  return (
    <div className="shot">
      <Link
        className="frames"
        to={`/shots/${shot.id}/${shot.strip.length ? 'build' : 'intake'}`}
        aria-label={`Open ${shot.name}`}
        tabIndex={-1}
      >
        {[0, 1, 2].map((i) => {
          const s = shot.strip[i];
          return s ? (
            <SmallPicture
              key={i}
              className="frame"
              src={thumbnailUrl({ id: s.sourceId, stamp: s.stamp }, s.pass, s.frame, 192)}
            />
          ) : (
            <span key={i} className="frame" />
          );
        })}
      </Link>
      <div>
        <Link
          to={`/shots/${shot.id}/${shot.strip.length ? 'build' : 'intake'}`}
          className="strong"
          style={{ fontSize: 15 }}
        >
          {shot.name}
        </Link>
        <div className="quiet small">
          last change {new Date(shot.updatedAt).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })}
        </div>
      </div>
      <div className="number">
        {shot.strip.length ? (
          <>
            {shot.firstFrame}–{shot.lastFrame} at {shot.rate}
            <br />
            {shot.width}×{shot.height}
          </>
        ) : (
          <span className="quiet">no frames yet</span>
        )}
      </div>
      <div className="proofs">
        {stages.map((stage) => (
          <div key={stage}>
            <span className="strong">{stage.charAt(0).toUpperCase() + stage.slice(1)}</span>
            <div style={{ display: 'flex', gap: 5, alignItems: 'center' }}>
              <ProofMark state={shot.proofs[stage].state} /> <span className="clip">{shot.proofs[stage].figure}</span>
            </div>
          </div>
        ))}
      </div>
      <Button size="small" onClick={remove}>
        Take off
      </Button>
    </div>
  );
}
