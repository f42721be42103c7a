import { Button, Checkbox, Modal } from 'antd';
import { useMutation } from '@tanstack/react-query';
import { carriedShotSchema, type Shot } from '@june-haze/contract';
import { useState } from 'react';
import { z } from 'zod';
import { request } from '../../api/request.ts';
import { useShelf } from '../../api/shots.ts';
import { ProofMark } from '../../proof/ProofMark.tsx';

/** Other shots seen as this one is: config, viewing and the render's space in one step, each with its own exposure, and each proven. */
export function CarryOver({ shot }: { shot: Shot }) {
  const [open, setOpen] = useState(false);
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const { data: shelf = [] } = useShelf();
  const others = shelf.filter((s) => s.id !== shot.id);
  const carry = useMutation({
    mutationFn: () => request(z.array(carriedShotSchema), `/shots/${shot.id}/match/carry`, 'POST', { to: chosen }),
  });
  const results = carry.data ?? [];
  if (!others.length) return null;
  return (
    <>
      <Button size="small" onClick={() => setOpen(true)}>
        Carry over to other shots
      </Button>
      <Modal title="Carry over to other shots" open={open} onCancel={() => setOpen(false)} footer={null} width={520}>
        <p className="quiet">
          Config, display, view, look, levels, gamma and the declared space of the render are set there as here; each
          keeps its own exposure. Where there is a reference, it is proven. Each can be taken back in its own Match.
        </p>
        <Checkbox.Group className="carry" value={[...chosen]} onChange={(ids) => setChosen(ids as string[])}>
          {others.map(({ id, name, proofs }) => {
            const result = results.find((r) => r.id === id);
            const proof = result?.proof ?? proofs.match;
            return (
              <div key={id} className="carry-row">
                <Checkbox value={id}>{name}</Checkbox>
                <span className={result?.problem ? 'problem' : 'quiet'}>
                  {result?.problem ?? (
                    <>
                      <ProofMark state={proof.state} /> {proof.figure}
                    </>
                  )}
                </span>
              </div>
            );
          })}
        </Checkbox.Group>
        {carry.error && (
          <p className="problem" role="alert">
            {carry.error.message}
          </p>
        )}
        {results.length > 0 && (
          <p role="status">
            {results.filter((r) => r.problem === null).length} of {results.length} took it.
          </p>
        )}
        <div className="view-file-actions">
          <Button type="primary" disabled={!chosen.length} loading={carry.isPending} onClick={() => carry.mutate()}>
            Carry over and prove
          </Button>
        </div>
      </Modal>
    </>
  );
}
