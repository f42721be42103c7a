import { App, Button, Tooltip } from 'antd';
import { handOverSchema, type Run } from '@june-haze/contract';
import { useState } from 'react';
import { request } from '../../api/request.ts';

/** Writes a page for people and a job file beside a run's files: what somebody needs who takes them over. */
export function HandOverButton({ run }: { run: Run }) {
  const { modal, message } = App.useApp();
  const [writing, setWriting] = useState(false);
  const write = () => {
    setWriting(true);
    request(handOverSchema, `/runs/${run.id}/hand-over`, 'POST')
      .then(({ page, job, unsaid }) => {
        modal.info({
          title: 'The hand-over is written',
          width: 560,
          content: (
            <>
              <p>Beside the files, for who takes them over:</p>
              <p>
                <a
                  href={`/api/runs/${run.id}/hand-over`}
                  target="_blank"
                  rel="noreferrer"
                  className="number"
                  style={{ textDecoration: 'underline' }}
                >
                  {page}
                </a>
              </p>
              {job === null ? <p>There is no job file. {unsaid}</p> : <p className="number">{job}</p>}
            </>
          ),
        });
      })
      .catch((error: Error) => message.error(error.message, 8))
      .finally(() => setWriting(false));
  };
  return (
    <Tooltip title="A page for people and a job file, beside the files" placement="bottom">
      <Button size="small" loading={writing} onClick={write}>
        Hand over
      </Button>
    </Tooltip>
  );
}
