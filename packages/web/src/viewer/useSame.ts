import { useState } from 'react';

/** The same object for as long as it says the same: so that what hangs on it is not made anew. */
export function useSame<T>(value: T): T {
  const [kept, setKept] = useState(value);
  if (kept === value || JSON.stringify(kept) === JSON.stringify(value)) return kept;
  setKept(value);
  return value;
}
