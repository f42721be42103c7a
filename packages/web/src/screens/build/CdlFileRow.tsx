import { App, Button, Select, Upload } from 'antd';
import { readCorrections, writeCorrection, type Adjustment, type Correction } from '@june-haze/core';
import { useState } from 'react';

type Cdl = Adjustment & { kind: 'cdl' };
interface Props {
  adjustment: Cdl;
  onSave: (change: Partial<Cdl>, words: string) => void;
}

/** The numbers of an ASC CDL from a .cc, .ccc or .cdl file, and into one. */
export function CdlFileRow({ adjustment, onSave }: Props) {
  const { message } = App.useApp();
  const [several, setSeveral] = useState<readonly Correction[]>([]);
  const take = ({ id, transform: { slope, offset, power, saturation } }: Correction) => {
    setSeveral([]);
    onSave({ slope, offset, power, saturation } as Partial<Cdl>, `CDL ${id}`.trim());
  };
  const read = async (file: File) => {
    try {
      const found = readCorrections(new Uint8Array(await file.arrayBuffer()), file.name);
      if (found.length === 1) take(found[0]!);
      else setSeveral(found);
    } catch (error) {
      void message.error((error as Error).message, 8);
    }
  };
  const write = () => {
    const text = writeCorrection({ id: 'june-haze', ...numbersOf(adjustment) });
    const address = URL.createObjectURL(new Blob([text], { type: 'application/xml' }));
    Object.assign(document.createElement('a'), { href: address, download: 'correction.cc' }).click();
    URL.revokeObjectURL(address);
  };
  return (
    <div style={{ display: 'flex', gap: 6, margin: '4px 0', flexWrap: 'wrap' }}>
      <Upload
        accept=".cc,.ccc,.cdl"
        showUploadList={false}
        beforeUpload={(file) => {
          void read(file);
          return false;
        }}
      >
        <Button size="small">Read a CDL file</Button>
      </Upload>
      <Button size="small" onClick={write}>
        Save as .cc
      </Button>
      {several.length > 0 && (
        <Select
          size="small"
          aria-label="Correction of the file"
          placeholder={`choose one of ${several.length}`}
          style={{ minWidth: 160 }}
          options={several.map((c, i) => ({ value: i, label: c.id || c.description || `correction ${i + 1}` }))}
          onChange={(i: number) => take(several[i]!)}
        />
      )}
    </div>
  );
}

const plain = (value: unknown, otherwise: number): number => (typeof value === 'number' ? value : otherwise);
const three = (values: unknown, otherwise: number) =>
  [0, 1, 2].map((i) => plain((values as readonly unknown[] | undefined)?.[i], otherwise)) as [number, number, number];

/** The numbers as they stand; those that are keyed or left out as doing nothing. */
const numbersOf = ({ slope, offset, power, saturation }: Cdl) => ({
  slope: three(slope, 1),
  offset: three(offset, 0),
  power: three(power, 1),
  saturation: plain(saturation, 1),
});
