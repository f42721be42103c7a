import { useCallback, useMemo, useState } from 'react';
import type { z } from 'zod';

/** Something that is kept in this browser under a key, read again on the next visit. Its schema has a default for each field that is not there or not right. */
export function useStored<T extends object>(key: string, schema: z.ZodType<T>): [T, (change: Partial<T>) => void] {
  const read = useCallback((): T => {
    try {
      return schema.parse(JSON.parse(localStorage.getItem(key) ?? '{}'));
    } catch {
      return schema.parse({});
    }
  }, [key, schema]);
  const [kept, setKept] = useState(() => ({ key, value: read() }));
  const fresh = useMemo(() => read(), [read]);
  const value = kept.key === key ? kept.value : fresh;
  const change = useCallback(
    (changed: Partial<T>) =>
      setKept((before) => {
        const next = { ...(before.key === key ? before.value : read()), ...changed };
        localStorage.setItem(key, JSON.stringify(next));
        return { key, value: next };
      }),
    [key, read],
  );
  return [value, change];
}
