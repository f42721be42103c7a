import { useEffect, useState } from 'react';

/** A value once it has stood for a moment; the one before it while it moves, or while `moving` says so. */
export function useRested<T>(value: T, milliseconds: number, moving = false): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    if (moving) return;
    const timer = setTimeout(() => setRested(value), milliseconds);
    return () => clearTimeout(timer);
  }, [value, milliseconds, moving]);
  return rested;
}
