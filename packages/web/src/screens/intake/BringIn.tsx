import { Button, Checkbox, Modal } from 'antd';
import { joinedPattern } from '@june-haze/core';
import type { MediaSequence, Shot } from '@june-haze/contract';
import { CornerLeftUp, Folder } from 'lucide-react';
import { useState } from 'react';
import { useMediaFolder, useShotChange } from '../../api/shots.ts';

interface Props {
  shot: Shot;
  open: boolean;
  onClose: () => void;
  onBrought: () => void;
}

/** Browses the media folders named at start and brings material in as it lies: one thing, or all that a folder holds. */
export function BringIn({ shot, open, onClose, onBrought }: Props) {
  const [folder, setFolder] = useState('');
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const { data, error, isFetching } = useMediaFolder(folder);
  const change = useShotChange();
  const enter = (place: string) => {
    setFolder(place);
    setLeft(new Set());
  };
  const inShot = new Set(shot.sources.map((s) => `${s.folder}/${s.pattern}`));
  const isIn = (s: MediaSequence) => inShot.has(`${folder}/${s.pattern}`);
  // Of several versions the newest is offered; the others wait for a person who wants them.
  const offered = (data?.sequences ?? []).filter((s) => !isIn(s));
  const chosen = offered.filter((s) => left.has(s.pattern) === s.outdated);
  const bring = (patterns: string[]) =>
    change.mutate(
      { path: `/shots/${shot.id}/sources`, method: 'POST', body: { folder, patterns } },
      { onSuccess: onBrought },
    );
  const toggle = (pattern: string) => {
    const next = new Set(left);
    if (!next.delete(pattern)) next.add(pattern);
    setLeft(next);
  };
  return (
    <Modal
      title="Bring in"
      open={open}
      onCancel={onClose}
      width={760}
      footer={
        <>
          {canJoin(chosen) && (
            <Button
              loading={change.isPending}
              title="What is chosen becomes the passes of one source"
              onClick={() =>
                bring([joinedPattern(chosen.flatMap((s) => (s.members.length ? s.members : [s.pattern])))])
              }
            >
              Bring in as one source
            </Button>
          )}
          <Button
            type="primary"
            disabled={!chosen.length}
            loading={change.isPending}
            onClick={() => bring(chosen.map((s) => s.pattern))}
          >
            Bring in {chosen.length} {chosen.length === 1 ? 'source' : 'sources'}
          </Button>
        </>
      }
    >
      <div className="bar" style={{ padding: '0 4px', border: '1px solid var(--line)' }}>
        <Button
          size="small"
          icon={<CornerLeftUp size={12} />}
          disabled={data?.parent === null || data === undefined}
          onClick={() => enter(data?.parent ?? '')}
        >
          Up
        </Button>
        <span className="number clip">{folder || 'media folders'}</span>
        <span className="grow" />
        {isFetching && <span className="quiet">looking …</span>}
      </div>
      <div style={{ height: 380, overflow: 'auto', border: '1px solid var(--line)', borderTop: 0 }}>
        {error && <div className="empty">{error.message}</div>}
        {data?.folders.map((f) => (
          <button key={f} className="plain place" onClick={() => enter(f)}>
            <Folder size={14} /> {f.split('/').at(-1)}
          </button>
        ))}
        {data?.sequences.map((s) => (
          <div key={s.pattern} className="offer">
            <Checkbox
              aria-label={`Choose ${s.pattern}`}
              disabled={isIn(s)}
              checked={isIn(s) || left.has(s.pattern) === s.outdated}
              onChange={() => toggle(s.pattern)}
            />
            <span className="clip" title={s.pattern}>
              {s.pattern}
              <span className="quiet">{offerWords(s)}</span>
            </span>
            <span className="number quiet">
              {s.kind === 'sequence' ? `${s.firstFrame}–${s.lastFrame}` : s.kind}
              {s.missing ? `, ${s.missing} missing` : ''}
            </span>
            {s.members.length > 0 && !isIn(s) ? (
              <Button
                size="small"
                type="text"
                title="Each of its files becomes a source of its own"
                aria-label={`Bring in ${s.pattern} apart`}
                onClick={() => bring(s.members)}
              >
                Apart
              </Button>
            ) : (
              <span />
            )}
            <Button
              size="small"
              aria-label={`Bring in ${s.pattern}`}
              disabled={isIn(s) || change.isPending}
              onClick={() => bring([s.pattern])}
            >
              {isIn(s) ? 'In the shot' : 'Bring in'}
            </Button>
          </div>
        ))}
        {data?.more && (
          <div className="empty">The folders below hold more than is listed here; enter one to see it whole.</div>
        )}
        {data && !data.folders.length && !data.sequences.length && (
          <div className="empty">
            No pictures or movies lie here. Name more folders at start: JUNE_MEDIA=/path npm start
          </div>
        )}
      </div>
    </Modal>
  );
}

/** Files of one kind can be the passes of one source; movies cannot. */
function canJoin(chosen: readonly MediaSequence[]): boolean {
  const kinds = new Set(chosen.map((s) => s.pattern.slice(s.pattern.lastIndexOf('.')).toLowerCase()));
  return chosen.length > 1 && kinds.size === 1 && chosen.every((s) => s.kind !== 'movie');
}

function offerWords(s: MediaSequence): string {
  return [
    s.passes > 0 ? ` · ${s.passes} passes, one file each` : '',
    s.view ? ` · ${s.view} eye` : '',
    s.version !== null ? ` · version ${s.version}${s.outdated ? ', not the newest' : ''}` : '',
  ].join('');
}
