import type { PatchMean } from '@june-haze/core';

/** What was read off a marked region. */
export function PatchWords({ patch }: { patch: PatchMean }) {
  return (
    <>
      <span className="number">{patch.mean.map((v) => v.toFixed(4)).join(' ')}</span> of{' '}
      <span className="number">{patch.count}</span> pixels,{' '}
      <span className="number">{`${(100 * patch.rejected).toFixed(1)}\u00a0%`}</span> left out, noise{' '}
      <span className="number">{`${(100 * patch.noise).toFixed(1)}\u00a0%`}</span>.
    </>
  );
}
