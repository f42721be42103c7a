import { useDraggable } from '@dnd-kit/core';
import { Button, Dropdown } from 'antd';
import { findMatte, freeMatteName, mattes as definitions, type LedgerDocument, type Matte } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useState } from 'react';
import { matteId } from '../LedgerDrag.tsx';
import { startingValues } from '../startingValues.ts';
import { MattePanel } from './MattePanel.tsx';
import { MattePicture } from './MattePicture.tsx';
import { useSampled } from './samples.ts';

interface Props {
  shot: Shot;
  document: LedgerDocument;
  onDraft: (document: LedgerDocument) => void;
  onSave: (document: LedgerDocument, words: string) => void;
}

/** The ledger's mattes as small live pictures: opened to be shaped, dragged on a row to limit it. */
export function MatteStrip({ shot, document, onDraft, onSave }: Props) {
  const [opened, setOpened] = useState<string>();
  const names = Object.keys(document.mattes ?? {});
  const open = opened !== undefined && names.includes(opened) ? opened : undefined;
  const add = (kind: Matte['kind']) => {
    const name = freeMatteName(document, kind);
    const started = startingValues(findMatte(kind)!.parameters, shot);
    const mattes = { ...document.mattes, [name]: { kind, ...started } as Matte };
    onSave({ ...document, version: 2, mattes }, `new matte ${name}`);
    setOpened(name);
  };
  return (
    <section className="mattes" aria-label="Mattes">
      {open !== undefined && <MattePanel {...{ shot, document, onDraft, onSave }} name={open} onOpen={setOpened} />}
      <div className="matte-strip">
        <Dropdown
          trigger={['click']}
          menu={{
            items: definitions.map((d) => ({ key: d.kind, label: d.title, title: d.does })),
            onClick: ({ key }) => add(key as Matte['kind']),
          }}
        >
          <Button size="small" style={{ flex: 'none' }}>
            New matte
          </Button>
        </Dropdown>
        {names.map((name) => (
          <Tile
            key={name}
            name={name}
            document={document}
            open={name === open}
            onOpen={() => setOpened(name === open ? undefined : name)}
          />
        ))}
      </div>
    </section>
  );
}

interface TileProps {
  name: string;
  document: LedgerDocument;
  open: boolean;
  onOpen: () => void;
}

function Tile({ name, document, open, onOpen }: TileProps) {
  const { sample, problem } = useSampled({ kind: 'named matte', name }, document);
  const { setNodeRef, listeners } = useDraggable({ id: matteId(name) });
  return (
    <button
      className={`plain matte-tile${open ? ' chosen' : ''}`}
      ref={setNodeRef}
      {...listeners}
      aria-expanded={open}
      title={problem ?? `${name}: open it, or drag it on a row`}
      onClick={onOpen}
    >
      {problem ? (
        <span className="matte-picture problem-word">cannot be made</span>
      ) : (
        <MattePicture sample={sample} label="" />
      )}
      <span className="clip small">{name}</span>
    </button>
  );
}
