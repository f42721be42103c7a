import { Button, Modal } from 'antd';
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

/** Browses the media folders named at start and brings sequences in as they lie. */
export function BringIn({ shot, open, onClose, onBrought }: Props) {
  const [folder, setFolder] = useState('');
  const { data, error } = useMediaFolder(folder);
  const change = useShotChange();
  const bring = (sequence: MediaSequence) =>
    change.mutate(
      { path: `/shots/${shot.id}/sources`, method: 'POST', body: { folder, pattern: sequence.pattern } },
      { onSuccess: onBrought },
    );
  return (
    <Modal title="Bring in" open={open} onCancel={onClose} footer={null} width={640}>
      <div className="bar" style={{ padding: '0 4px', border: '1px solid var(--line)' }}>
        <Button
          size="small"
          icon={<CornerLeftUp size={12} />}
          disabled={data?.parent === null || data === undefined}
          onClick={() => setFolder(data?.parent ?? '')}
        >
          Up
        </Button>
        <span className="number clip">{folder || 'media folders'}</span>
      </div>
      <div style={{ height: 320, overflow: 'auto', border: '1px solid var(--line)', borderTop: 0 }}>
        {error && <div className="empty">{error.message}</div>}
        {data?.folders.map((f) => (
          <button
            key={f}
            className="plain"
            style={{ display: 'flex', gap: 8, alignItems: 'center', padding: '6px 10px', width: '100%' }}
            onClick={() => setFolder(f)}
          >
            <Folder size={14} /> {f.split('/').at(-1)}
          </button>
        ))}
        {data?.sequences.map((s) => (
          <div
            key={s.pattern}
            style={{
              display: 'grid',
              gridTemplateColumns: '1fr auto auto',
              gap: 12,
              alignItems: 'center',
              padding: '6px 10px',
              borderTop: '1px solid var(--hairline)',
            }}
          >
            <span className="clip">
              {s.pattern}
              {s.passes > 0 && <span className="quiet"> · {s.passes} passes, one file each</span>}
            </span>
            <span className="number quiet">
              {s.lastFrame ? `${s.firstFrame}–${s.lastFrame}` : 'still'}
              {s.missing ? `, ${s.missing} missing` : ''}
            </span>
            <Button
              size="small"
              type="primary"
              aria-label={`Bring in ${s.pattern}`}
              loading={change.isPending}
              onClick={() => bring(s)}
            >
              Bring in
            </Button>
          </div>
        ))}
        {data && !data.folders.length && !data.sequences.length && (
          <div className="empty">No EXR files lie here. Name more folders at start: JUNE_MEDIA=/path npm start</div>
        )}
      </div>
    </Modal>
  );
}
