import { Button, Modal, Select } from 'antd';
import { useMutation } from '@tanstack/react-query';
import { writtenKinds, type ShotColour } from '@june-haze/core';
import { viewFileSchema, type ViewFileRequest } from '@june-haze/contract';
import { useState, type ReactNode } from 'react';
import { request } from '../../api/request.ts';
import { saveText } from '../../api/saveText.ts';

const sizes = [17, 33, 65] as const;
const kindWords = { cube: '.cube', clf: '.clf, the Common LUT Format', spimtx: '.spimtx, a matrix' } as const;

interface Props {
  readonly title: string;
  /** What is written, in a sentence. */
  readonly children: ReactNode;
  readonly path: string;
  /** What the server needs to know besides. */
  readonly more?: object;
  readonly atFirst: ViewFileRequest;
  readonly colour: ShotColour | undefined;
  readonly disabled?: boolean;
}

/** A button, and behind it a LUT file for other programs: made, read again and measured, then saved. */
export function WriteLut({ title, children, path, more, atFirst, colour, disabled = false }: Props) {
  const [open, setOpen] = useState(false);
  const [asked, setAsked] = useState<ViewFileRequest>(atFirst);
  const write = useMutation({
    mutationFn: (body: ViewFileRequest) => request(viewFileSchema, path, 'POST', { ...body, ...more }),
  });
  const change = (next: Partial<ViewFileRequest>) => {
    setAsked({ ...asked, ...next });
    write.reset();
  };
  const show = () => {
    // What it was made of may have changed.
    write.reset();
    setOpen(true);
  };
  const spaces = (colour?.spaces() ?? []).filter((s) => !s.isData).map((s) => ({ value: s.name, label: s.name }));
  const file = write.data;
  return (
    <>
      <Button size="small" disabled={disabled} onClick={show}>
        {title}
      </Button>
      <Modal title={title} open={open} onCancel={() => setOpen(false)} footer={null} width={520}>
        <p className="quiet">{children}</p>
        <div className="view-file">
          <label htmlFor="lut-file-space">takes numbers of</label>
          <Select
            id="lut-file-space"
            size="small"
            showSearch
            value={asked.space}
            options={spaces}
            onChange={(space) => change({ space })}
          />
          <label htmlFor="lut-file-kind">as</label>
          <Select
            id="lut-file-kind"
            size="small"
            value={asked.kind}
            options={writtenKinds.map((kind) => ({ value: kind, label: kindWords[kind] }))}
            onChange={(kind) => change({ kind })}
          />
          {asked.kind !== 'spimtx' && (
            <>
              <label htmlFor="lut-file-size">nodes a side</label>
              <Select
                id="lut-file-size"
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
            <span className="number">{file.error.max.toFixed(1)}</span>.{' '}
            {asked.kind === 'spimtx' ? (
              'It takes all numbers.'
            ) : (
              <>
                It holds light from <span className="number">{file.holds[0].toPrecision(3)}</span> to{' '}
                <span className="number">{file.holds[1].toPrecision(4)}</span>; beyond, it shows its ends.
              </>
            )}
          </p>
        )}
        <div className="view-file-actions">
          <Button type={file ? 'default' : 'primary'} loading={write.isPending} onClick={() => write.mutate(asked)}>
            Make and measure it
          </Button>
          {file && (
            <Button type="primary" onClick={() => saveText(file.name, file.text)}>
              Save {file.name}
            </Button>
          )}
        </div>
      </Modal>
    </>
  );
}
