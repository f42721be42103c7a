import { App, Button, Input, Popover } from 'antd';
import type { Output, PreCheckItem } from '@june-haze/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { send } from '../../api/request.ts';

/** Accepts a line that keeps an output from being written, with a reason that is kept and handed over; or takes that back. */
export function Accept({ output, item }: { output: Output; item: PreCheckItem }) {
  const queries = useQueryClient();
  const { message } = App.useApp();
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState('');
  const put = useMutation({
    mutationFn: async (why: string | null) => {
      await send(`/outputs/${output.id}/accepted`, 'PUT', { text: item.text, reason: why });
      await queries.invalidateQueries({ queryKey: ['precheck', output.id] });
    },
    onSuccess: () => setOpen(false),
    onError: (error) => void message.error(error.message, 6),
  });
  if (item.accepted)
    return (
      <span>
        <span className="strong">Accepted:</span> {item.accepted.reason}{' '}
        <Button size="small" loading={put.isPending} onClick={() => put.mutate(null)}>
          Take back
        </Button>
      </span>
    );
  return (
    <Popover
      trigger="click"
      open={open}
      onOpenChange={setOpen}
      content={
        <form
          className="accept"
          onSubmit={(e) => {
            e.preventDefault();
            put.mutate(reason);
          }}
        >
          <Input
            size="small"
            autoFocus
            aria-label="Why it may be so"
            placeholder="why it may be so"
            maxLength={500}
            value={reason}
            onChange={(e) => setReason(e.target.value)}
          />
          <Button
            size="small"
            type="primary"
            htmlType="submit"
            disabled={reason.trim().length < 3}
            loading={put.isPending}
          >
            Accept
          </Button>
        </form>
      }
    >
      <Button size="small">Accept it …</Button>
    </Popover>
  );
}
