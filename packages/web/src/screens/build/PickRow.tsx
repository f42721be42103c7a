import { Button } from 'antd';
import { Pipette } from 'lucide-react';
import { Heap, kernels, prepareSteps, type Entry } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useContext, useState } from 'react';
import { useShotColour } from '../../api/colour.ts';
import { PickContext, straightOf } from './picking.ts';

interface Props {
  shot: Shot;
  /** The entry as it comes to the adjustment. */
  entry: Entry;
  /** The space that the adjustment works in. */
  space: string;
  onPick: (colour: [number, number, number]) => void;
}

/** Takes a colour from the picture of the entry alone, in the adjustment's own space. */
export function PickRow({ shot, entry, space, onPick }: Props) {
  const pick = useContext(PickContext);
  const { data: colour } = useShotColour(shot.colour);
  const [picking, setPicking] = useState(false);
  const take = async () => {
    setPicking(true);
    const picked = await pick({ kind: 'entry', entry }).finally(() => setPicking(false));
    const straight = picked && straightOf(picked);
    if (straight && colour) onPick(inSpace(straight, colour.conversion(shot.workingSpace, space)));
  };
  return (
    <Button
      size="small"
      icon={<Pipette size={12} />}
      type={picking ? 'primary' : 'default'}
      aria-pressed={picking}
      disabled={!colour}
      onClick={() => void take()}
    >
      Pick what shall be grey in the picture
    </Button>
  );
}

function inSpace(
  picked: readonly [number, number, number],
  steps: Parameters<typeof prepareSteps>[0],
): [number, number, number] {
  const heap = new Heap(kernels());
  const [r, g, b] = picked.map((v) => heap.placeFloats([v, v, v, v])) as [number, number, number];
  prepareSteps(steps, heap)(r, g, b, 1);
  return [r, g, b].map((p) => Number(Math.max(0, heap.floats(p, 1)[0]!).toPrecision(5))) as [number, number, number];
}
