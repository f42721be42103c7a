import { App, Button, Tooltip } from 'antd';
import { jobPlaceSchema, type Shot } from '@june-haze/contract';
import { useState } from 'react';
import { request } from '../../api/request.ts';
import { useCommand } from '../../commands/registry.ts';

/** Writes the whole shot as a job file beside its outputs: what another department, or `june run`, makes the same pixels from. */
export function JobButton({ shot }: { shot: Shot }) {
  const { modal, message } = App.useApp();
  const [writing, setWriting] = useState(false);
  const write = () => {
    setWriting(true);
    request(jobPlaceSchema, `/shots/${shot.id}/job`, 'POST')
      .then(({ place }) => {
        modal.info({
          title: 'The job file is written',
          width: 520,
          content: (
            <>
              <p>Everything that the shot’s pixels depend on; what it needs of the Library lies beside it.</p>
              <p className="number">{place}</p>
              <p className="quiet">Without the application it is done by</p>
              <p className="number">june run {place.split('/').at(-1)}</p>
            </>
          ),
        });
      })
      .catch((error: Error) => message.error(error.message, 8))
      .finally(() => setWriting(false));
  };
  const enabled = shot.ledger.document.entries.length > 0;
  useCommand({ name: 'Write a job file of this shot', run: write, enabled });
  return (
    <Tooltip title="The whole shot as one file beside its outputs" placement="bottom">
      <Button size="small" loading={writing} disabled={!enabled} onClick={write}>
        Write job file
      </Button>
    </Tooltip>
  );
}
