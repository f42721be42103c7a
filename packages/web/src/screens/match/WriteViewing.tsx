import { Button, Modal, Select } from 'antd';
import { useMutation } from '@tanstack/react-query';
import { writtenKinds, type ShotColour } from '@june-haze/core';
import { viewFileSchema, type Shot, type ViewFile, type ViewFileRequest } from '@june-haze/contract';
import { useState } from 'react';
import { request } from '../../api/request.ts';

const sizes = [17, 33, 65] as const;
const kindWords = { cube: '.cube', clf: '.clf, the Common LUT Format', spimtx: '.spimtx, a matrix' } as const;

/** The present display, view and look as a LUT file for other programs, with how far it lies from the exact viewing. */
export function WriteViewing({ shot, colour }: { shot: Shot; colour: ShotColour | undefined }) {
  const [open, setOpen] = useState(false);
  const [asked, setAsked] = useState<ViewFileRequest>({ space: 'ACEScct', size: 33, kind: 'cube' });
  const write = useMutation({
    mutationFn: (body: ViewFileRequest) => request(viewFileSchema, `/shots/${shot.id}/view-file`, 'POST', body),
  });
  const change = (more: Partial<ViewFileRequest>) => {
    setAsked({ ...asked, ...more });
    write.reset();
  };
  const spaces = (colour?.spaces() ?? []).filter((s) => !s.isData).map((s) => ({ value: s.name, label: s.name }));
  const file = write.data;
  return (
    <>
      <Button size="small" onClick={() => setOpen(true)}>
        Write this viewing as a LUT
      </Button>
      <Modal title="Write this viewing as a LUT" open={open} onCancel={() => setOpen(false)} footer={null} width={520}>
        <p className="quiet">
          {[shot.viewing.display, shot.viewing.view, shot.viewing.look, shot.viewing.lookFile?.name]
            .filter(Boolean)
            .join(' · ')}
          , for programs that have no config. A cube takes numbers of a log space, since light has no end.
        </p>
        <div className="view-file">
          <label htmlFor="view-file-space">takes numbers of</label>
          <Select
            id="view-file-space"
            size="small"
            showSearch
            value={asked.space}
            options={spaces}
            onChange={(space) => change({ space })}
          />
          <label htmlFor="view-file-kind">as</label>
          <Select
            id="view-file-kind"
            size="small"
            value={asked.kind}
            options={writtenKinds.map((kind) => ({ value: kind, label: kindWords[kind] }))}
            onChange={(kind) => change({ kind })}
          />
          {asked.kind !== 'spimtx' && (
            <>
              <label htmlFor="view-file-size">nodes a side</label>
              <Select
                id="view-file-size"
                size="small"
                value={asked.size}
                options={sizes.map((size) => ({ value: size, label: String(size) }))}
                onChange={(size) => change({ size })}
              />
            </>
          )}
        </div>
        {write.error && (
          <p className="problem" role="alert">
            {write.error.message}
          </p>
        )}
        {file && (
          <p role="status">
            Read again, it lies <span className="number">{file.error.mean.toFixed(2)}</span> codes off on average,{' '}
            <span className="number">{file.error.p99.toFixed(1)}</span> for 99 % and at most{' '}
            <span className="number">{file.error.max.toFixed(1)}</span>. It holds light from{' '}
            <span className="number">{file.holds[0].toPrecision(3)}</span> to{' '}
            <span className="number">{file.holds[1].toPrecision(4)}</span>; beyond, it shows its ends.
          </p>
        )}
        <div className="view-file-actions">
          <Button type={file ? 'default' : 'primary'} loading={write.isPending} onClick={() => write.mutate(asked)}>
            Make and measure it
          </Button>
          {file && (
            <Button type="primary" onClick={() => save(file)}>
              Save {file.name}
            </Button>
          )}
        </div>
      </Modal>
    </>
  );
}

function save({ name, text }: ViewFile): void {
  const address = URL.createObjectURL(new Blob([text], { type: 'text/plain' }));
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
  URL.revokeObjectURL(address);
}
