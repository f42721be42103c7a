import { useCallback, useMemo, useState } from 'react';
import type { z } from 'zod';

/**
 * Something that is kept in this browser under a key, read again on the next visit. Its schema has a default for each field that is not there
 * or not right; `atFirst` (the same object at every call) comes before those.
 */
export function useStored<T extends object>(
  key: string,
  schema: z.ZodType<T>,
  atFirst?: Partial<T>,
): [T, (change: Partial<T>) => void] {
  const read = useCallback((): T => {
    try {
      return schema.parse({ ...atFirst, ...(JSON.parse(localStorage.getItem(key) ?? '{}') as object) });
    } catch {
      return schema.parse({});
    }
  }, [key, schema, atFirst]);
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
