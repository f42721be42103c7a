import { Button, Modal } from 'antd';
import { ledgerWords, type LedgerDocument } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useState } from 'react';
import { ColourFiles } from './ColourFiles.tsx';
import { useCommand } from '../../commands/registry.ts';
import { useCopy } from '../../frame/useCopy.ts';

/** The ledger in plain words, to be read and copied: for who takes the shot over. */
export function InWords({ shot, document }: { readonly shot: Shot; readonly document: LedgerDocument }) {
  const [open, setOpen] = useState(false);
  const copyText = useCopy();
  useCommand({ name: 'The ledger in words', keys: 'shift+j', run: () => setOpen(true) });
  const nameOf = (id: string) => shot.sources.find((s) => s.id === id)?.name ?? 'a source that is gone';
  const lines = open ? ledgerWords(document, nameOf) : [];
  const copy = () => copyText([`${shot.name}, working in ${shot.workingSpace}`, ...lines].join('\n'), 'Copied');
  return (
    <>
      <Button size="small" title="The ledger in words (Shift+J)" onClick={() => setOpen(true)}>
        In words
      </Button>
      <Modal
        open={open}
        title={`${shot.name} in words`}
        width={720}
        okText="Copy"
        cancelText="Close"
        onOk={copy}
        onCancel={() => setOpen(false)}
      >
        {lines.length ? (
          <div className="in-words" data-testid="in-words">
            {lines.map((line) => (
              <p key={line}>{line}</p>
            ))}
          </div>
        ) : (
          <p>The ledger is empty.</p>
        )}
        {lines.length > 0 && <ColourFiles shot={shot} document={document} />}
      </Modal>
    </>
  );
}
