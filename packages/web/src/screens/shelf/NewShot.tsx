import { App, Button, Input, Modal, Select } from 'antd';
import { shotSchema, type SetUp } from '@june-haze/contract';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { z } from 'zod';
import { request } from '../../api/request.ts';
import { useSetUpChanges, useSetUps } from '../../api/setUps.ts';
import { useStored } from '../../viewer/useStored.ts';

const lastSchema = z.object({ setUp: z.string().nullable().catch(null) });

/** Asks for a shot's name and what it starts from: a set-up that was kept, the last chosen one at first. */
export function NewShot({ open, onClose }: { open: boolean; onClose: () => void }) {
  const [name, setName] = useState('');
  const { message } = App.useApp();
  const navigate = useNavigate();
  const { data: setUps = [] } = useSetUps();
  const { remove } = useSetUpChanges();
  const [last, setLast] = useStored('june-haze-set-up', lastSchema);
  const chosen = setUps.find((s) => s.id === last.setUp);
  const create = async () => {
    try {
      const shot = await request(shotSchema, '/shots', 'POST', { name, setUp: chosen?.id ?? null });
      onClose();
      setName('');
      await navigate(`/shots/${shot.id}/intake`);
    } catch (error) {
      void message.error((error as Error).message);
    }
  };
  return (
    <Modal
      title="New shot"
      open={open}
      onCancel={onClose}
      okText="Make shot"
      okButtonProps={{ disabled: name.trim() === '' }}
      onOk={create}
      width={420}
    >
      <Input
        autoFocus
        aria-label="Name of the shot"
        placeholder="Name of the shot"
        value={name}
        onChange={(e) => setName(e.target.value)}
        onPressEnter={() => name.trim() && void create()}
      />
      {setUps.length > 0 && (
        <div className="new-shot">
          <label htmlFor="set-up">starts from</label>
          <Select
            id="set-up"
            value={chosen?.id ?? ''}
            options={[
              { value: '', label: 'the built-in colours, 24 a second' },
              ...setUps.map((s) => ({ value: s.id, label: s.name })),
            ]}
            onChange={(id: string) => setLast({ setUp: id || null })}
          />
          {chosen && (
            <>
              <span />
              <span className="quiet">
                {setUpWords(chosen)}{' '}
                <Button size="small" onClick={() => remove.mutate(chosen.id)}>
                  Remove this set-up
                </Button>
              </span>
            </>
          )}
        </div>
      )}
    </Modal>
  );
}

const setUpWords = ({ configName, workingSpace, viewing, rate }: SetUp): string =>
  [
    configName ?? 'the built-in config',
    `working in ${workingSpace}`,
    `seen as ${[viewing.display, viewing.view, viewing.look, viewing.lookFile?.name].filter(Boolean).join(' · ')}`,
    `${rate} a second`,
  ].join(', ') + '.';
