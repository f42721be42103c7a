import { useEffect, useRef } from 'react';
import type { SampleAnswer } from '../../../viewer/engine/messages.ts';

/** A matte as a small picture: white where it acts. */
export function MattePicture({ sample, label }: { sample: SampleAnswer | undefined; label: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!sample || !canvas.current || !context) return;
    const { width, height, planes } = sample;
    [canvas.current.width, canvas.current.height] = [width, height];
    const codes = new ImageData(width, height);
    planes[0]!.forEach((v, i) => {
      const code = Math.round(255 * Math.min(1, Math.max(0, v)));
      codes.data.set([code, code, code, 255], 4 * i);
    });
    context.putImageData(codes, 0, 0);
  }, [sample]);
  return <canvas ref={canvas} role="img" aria-label={label} className="matte-picture" />;
}
