import type { ProofState } from '@june-haze/contract';

const words: Record<ProofState, string> = {
  proved: 'proved',
  unproved: 'unproved',
  differs: 'differs',
  fails: 'fails',
};

/** A proof's state as a shape, never by hue alone: filled circle, hollow circle, triangle, square. */
export function ProofMark({ state }: { state: ProofState }) {
  return (
    <svg width="11" height="11" viewBox="0 0 11 11" role="img" aria-label={words[state]} style={{ flex: 'none' }}>
      {state === 'proved' && <circle cx="5.5" cy="5.5" r="5" fill="var(--teal)" />}
      {state === 'unproved' && <circle cx="5.5" cy="5.5" r="4.2" fill="none" stroke="var(--ink)" strokeWidth="1.5" />}
      {state === 'differs' && <path d="M5.5 0.5l5 10h-10z" fill="var(--ochre)" />}
      {state === 'fails' && <rect x="0.5" y="0.5" width="10" height="10" fill="var(--brick)" />}
    </svg>
  );
}
