import { App, Button, Input } from 'antd';
import type { Shot } from '@june-haze/contract';
import { useState } from 'react';
import { useSetUpChanges, useSetUps } from '../api/setUps.ts';

/** Keeps a shot's colours and rate under a name, for new shots to start from. */
export function KeepSetUp({ shot }: { shot: Shot }) {
  const [name, setName] = useState('');
  const { message } = App.useApp();
  const { data: setUps = [] } = useSetUps();
  const { keep } = useSetUpChanges();
  const own = name.trim();
  const known = setUps.some((s) => s.name === own);
  const save = () =>
    keep.mutate(
      { name: own, shotId: shot.id },
      {
        onSuccess: () => {
          setName('');
          void message.success(`New shots can start from ${own} now.`);
        },
        onError: (error) => void message.error(error.message),
      },
    );
  return (
    <form
      className="keep-set-up"
      onSubmit={(e) => {
        e.preventDefault();
        if (own) save();
      }}
    >
      <Input
        size="small"
        aria-label="Name of the set-up"
        placeholder="name of a set-up"
        maxLength={80}
        value={name}
        onChange={(e) => setName(e.target.value)}
      />
      <Button size="small" htmlType="submit" disabled={!own} loading={keep.isPending}>
        {known ? 'Keep it anew' : 'Keep for new shots'}
      </Button>
    </form>
  );
}
