import { Button, Input, Popover } from 'antd';
import { useState } from 'react';
import { useShotChange, type ShotRequest } from '../../api/shots.ts';
import { ProofMark } from '../../proof/ProofMark.tsx';
import type { ProblemRow } from './problems.ts';

/** Problems as rows, each with its remedies and a silence that asks for a reason. */
export function Problems({ rows }: { rows: readonly ProblemRow[] }) {
  const change = useShotChange();
  return rows.map((p) => (
    <div key={p.key} className="problem" data-testid="problem">
      <span style={{ paddingTop: 3 }}>
        <ProofMark state={p.silenced ? 'unproved' : p.state} />
      </span>
      <div>
        <span className="strong">{p.title}</span>
        <br />
        <span className="quiet" style={{ overflowWrap: 'anywhere' }}>
          {p.about}
        </span>
        {p.silenced && (
          <div>
            Silenced: {p.silenced}{' '}
            <Button size="small" type="link" onClick={() => change.mutate(silence(p, ''))}>
              Take back
            </Button>
          </div>
        )}
        {!p.silenced && (
          <div className="remedies">
            {p.remedies.map((r) => (
              <Button
                key={r.label}
                size="small"
                aria-pressed={r.inForce}
                className={r.inForce ? 'in-force' : ''}
                onClick={() => change.mutate(r.request)}
              >
                {r.label}
              </Button>
            ))}
            {p.problems.length > 0 && <Silence row={p} />}
          </div>
        )}
      </div>
    </div>
  ));
}

const silence = (row: ProblemRow, reason: string): ShotRequest => ({
  path: `/sources/${row.source.id}/silence`,
  method: 'PUT',
  body: { keys: row.problems.map((p) => p.key), reason },
});

function Silence({ row }: { row: ProblemRow }) {
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState('');
  const change = useShotChange();
  const save = () => {
    if (!reason.trim()) return;
    setOpen(false);
    change.mutate(silence(row, reason));
  };
  return (
    <Popover
      trigger="click"
      open={open}
      onOpenChange={setOpen}
      placement="leftTop"
      content={
        <div style={{ width: 260, display: 'flex', flexDirection: 'column', gap: 8 }}>
          <label htmlFor={`reason-${row.key}`}>Why this is no problem here</label>
          <Input
            id={`reason-${row.key}`}
            autoFocus
            value={reason}
            onChange={(e) => setReason(e.target.value)}
            onPressEnter={save}
          />
          <Button type="primary" size="small" disabled={!reason.trim()} onClick={save}>
            Silence it
          </Button>
        </div>
      }
    >
      <Button size="small" type="text">
        Silence …
      </Button>
    </Popover>
  );
}
