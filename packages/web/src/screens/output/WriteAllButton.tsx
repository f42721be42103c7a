import { App, Button } from 'antd';
import { keepsFromWriting, preCheckSchema, shotSchema, type Output, type Shot } from '@june-haze/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { request } from '../../api/request.ts';
import { keepShot } from '../../api/shots.ts';

/** Queues every output of a shot in the order of the list; those that are being written, or may not be, are left out and named. */
export function WriteAllButton({ shot }: { shot: Shot }) {
  const { modal, message } = App.useApp();
  const queries = useQueryClient();
  const begin = useMutation({
    mutationFn: async (outputs: readonly Output[]) => {
      // One after the other: the queue takes frames in the order in which runs were begun.
      for (const { id } of outputs)
        keepShot(queries, await request(shotSchema, `/outputs/${id}/runs`, 'POST', { overwrite: true }));
    },
    onError: (error) => void message.error(error.message, 6),
  });
  const look = useMutation({
    mutationFn: () =>
      Promise.all(
        shot.outputs.map(async (output) => ({
          output,
          check: await request(preCheckSchema, `/outputs/${output.id}/precheck`),
        })),
      ),
    onError: (error) => void message.error(error.message, 6),
    onSuccess: (checked) => {
      const open = new Set(
        shot.runs.filter((r) => r.state === 'running' || r.state === 'paused').map((r) => r.outputId),
      );
      const may = checked.filter(({ output, check }) => !open.has(output.id) && !check.items.some(keepsFromWriting));
      const left = checked.filter((c) => !may.includes(c)).map((c) => c.output.name);
      const existing = may.reduce((n, { check }) => n + check.existing, 0);
      modal.confirm({
        title: may.length === 1 ? 'Write one output?' : `Write ${may.length} outputs, in this order?`,
        content: (
          <>
            <p>{may.map((m) => m.output.name).join(', ') || 'None can be written as they are.'}</p>
            {left.length > 0 && <p>Left out: {left.join(', ')}; their lists say why.</p>}
            {existing > 0 && (
              <p>
                {existing} {existing === 1 ? 'file is' : 'files are'} already there and will be replaced.
              </p>
            )}
          </>
        ),
        okText: 'Write them',
        okButtonProps: { disabled: may.length === 0 },
        onOk: () => begin.mutate(may.map((m) => m.output)),
      });
    },
  });
  return (
    <Button size="small" loading={look.isPending || begin.isPending} onClick={() => look.mutate()}>
      Write all
    </Button>
  );
}
