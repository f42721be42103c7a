import { Button } from 'antd';
import { Pipette } from 'lucide-react';
import type { Shot } from '@june-haze/contract';
import { useContext, useEffect, useRef, useState } from 'react';
import { useShotColour } from '../../api/colour.ts';
import { PickContext, straightOf, type PickFrom } from './picking.ts';
import { inSpace } from './useIncoming.ts';

interface Props {
  shot: Shot;
  from: PickFrom;
  /** The space that the adjustment works in. */
  space: string;
  /** What the button says. */
  words: string;
  onPick: (colour: [number, number, number]) => void;
}

/** Takes a colour from the picture, in an adjustment's own space. */
export function PickRow({ shot, from, space, words, onPick }: Props) {
  const pick = useContext(PickContext);
  const { data: colour } = useShotColour(shot.colour);
  const [picking, setPicking] = useState(false);
  // What else was changed since the pick began is not undone by it.
  const latest = useRef(onPick);
  useEffect(() => {
    latest.current = onPick;
  });
  const take = async () => {
    setPicking(true);
    const picked = await pick(from).finally(() => setPicking(false));
    const straight = picked && straightOf(picked);
    if (straight && colour) {
      const steps = colour.conversion(shot.workingSpace, space);
      latest.current(inPlaces(inSpace(onePixel(straight), steps)));
    }
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
      {words}
    </Button>
  );
}

const onePixel = ([r, g, b]: readonly [number, number, number]) =>
  [Float32Array.of(r), Float32Array.of(g), Float32Array.of(b)] as const;

/** A colour to five places, never below 0. */
const inPlaces = (colour: readonly Float32Array[]) =>
  colour.map((p) => Number(Math.max(0, p[0]!).toPrecision(5))) as [number, number, number];
