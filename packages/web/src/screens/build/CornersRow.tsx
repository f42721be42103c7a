import { Input } from 'antd';
import { useState } from 'react';

interface Props {
  readonly label: string;
  readonly corners: readonly (readonly [number, number])[];
  readonly onSave: (corners: readonly (readonly [number, number])[]) => void;
}

/** Places of the picture as text, "120 80, 300 90, …": in pixels, right and down. */
export function CornersRow({ label, corners, onSave }: Props) {
  const own = corners.map((c) => c.map((v) => Number(v.toFixed(1))).join(' ')).join(', ');
  const [typed, setTyped] = useState<string>();
  const settle = () => {
    if (typed === undefined) return;
    setTyped(undefined);
    const read = typed
      .split(/[,;\n]+/)
      .map((pair) => pair.trim().split(/\s+/).map(Number))
      .filter((pair) => pair.length === 2 && pair.every(Number.isFinite)) as [number, number][];
    onSave(read.slice(0, 64));
  };
  return (
    <Input
      size="small"
      className="number"
      aria-label={label}
      placeholder="120 80, 300 90, 260 240"
      value={typed ?? own}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={settle}
      onPressEnter={settle}
    />
  );
}
