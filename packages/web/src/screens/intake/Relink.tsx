import { Button, Modal, Select } from 'antd';
import type { Source } from '@june-haze/contract';
import { CornerLeftUp, Folder } from 'lucide-react';
import { useState } from 'react';
import { useMediaFolder, useShotChange } from '../../api/shots.ts';

/** Other versions of a source that lie beside it, and another folder for one that moved. What was declared stays. */
export function Relink({ source }: { source: Source }) {
  const [open, setOpen] = useState(false);
  const change = useShotChange();
  const beside = useMediaFolder(source.folder, source.version !== null);
  const versions = (beside.data?.sequences ?? []).filter(
    (s) => s.version !== null && s.pattern.replace(/v\d+/gi, 'v') === source.pattern.replace(/v\d+/gi, 'v'),
  );
  const relink = (folder: string, pattern: string) =>
    change.mutate(
      { path: `/sources/${source.id}/relink`, method: 'POST', body: { folder, pattern } },
      { onSuccess: () => setOpen(false) },
    );
  return (
    <>
      {versions.length > 1 && (
        <Select
          size="small"
          aria-label="Version"
          style={{ width: 128 }}
          value={source.pattern}
          options={versions.map((v) => ({
            value: v.pattern,
            label: `version ${v.version}${v.outdated ? '' : ', newest'}`,
          }))}
          onChange={(pattern) => relink(source.folder, pattern)}
        />
      )}
      <Button size="small" onClick={() => setOpen(true)}>
        It lies elsewhere …
      </Button>
      {open && <FindFolder source={source} onClose={() => setOpen(false)} onFound={relink} />}
    </>
  );
}

function FindFolder({
  source,
  onClose,
  onFound,
}: {
  source: Source;
  onClose: () => void;
  onFound: (folder: string, pattern: string) => void;
}) {
  const [folder, setFolder] = useState('');
  const { data, error } = useMediaFolder(folder);
  const fitting = (data?.sequences ?? []).filter((s) => s.pattern === source.pattern);
  return (
    <Modal title={`Where ${source.name} lies now`} open onCancel={onClose} footer={null} width={620}>
      <p className="quiet">
        Its name, size and passes must be those it had; what was declared of it and the ledger stay as they are.
      </p>
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
      <div style={{ height: 260, overflow: 'auto', border: '1px solid var(--line)', borderTop: 0 }}>
        {error && <div className="empty">{error.message}</div>}
        {fitting.map((s) => (
          <div key={s.pattern} className="offer" style={{ gridTemplateColumns: '1fr auto' }}>
            <span className="clip">{s.pattern}</span>
            <Button size="small" type="primary" onClick={() => onFound(folder, s.pattern)}>
              It is this one
            </Button>
          </div>
        ))}
        {data?.folders.map((f) => (
          <button key={f} className="plain place" onClick={() => setFolder(f)}>
            <Folder size={14} /> {f.split('/').at(-1)}
          </button>
        ))}
      </div>
    </Modal>
  );
}
