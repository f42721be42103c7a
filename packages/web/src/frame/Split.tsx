import type { ReactNode } from 'react';
import { Group, Panel, Separator, useDefaultLayout } from 'react-resizable-panels';

interface Props {
  /** Names the split; its place is remembered under it in this browser. */
  id: string;
  left: ReactNode;
  right: ReactNode;
  /** Share of the right side at first, in per cent, and its least width in pixels. */
  rightShare: number;
  rightLeast: number;
}

/** Two columns with a border that can be dragged, or moved by the arrow keys. */
export function Split({ id, left, right, rightShare, rightLeast }: Props) {
  const remembered = useDefaultLayout({ id, storage: localStorage });
  return (
    <Group className="split" orientation="horizontal" {...remembered}>
      <Panel id="left" minSize={360}>
        {left}
      </Panel>
      <Separator className="border" aria-label="Border between the columns" />
      <Panel id="right" minSize={rightLeast} defaultSize={`${rightShare}%`}>
        {right}
      </Panel>
    </Group>
  );
}
