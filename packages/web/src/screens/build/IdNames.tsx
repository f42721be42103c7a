import { Select } from 'antd';
import { idNames } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useMemo } from 'react';

interface Props {
  readonly shot: Shot;
  readonly of: Readonly<Record<string, unknown>>;
  readonly label: string;
  readonly names: readonly string[];
  readonly onSave: (names: readonly string[]) => void;
}

/** Names of IDs, offered from the manifest of the source; a star in a typed name takes all that fit. */
export function IdNames({ shot, of, label, names, onSave }: Props) {
  const source = shot.sources.find((s) => s.id === of.source);
  const known = useMemo(() => (source ? [...idNames(source.attributes).values()].sort() : []), [source]);
  return (
    <Select
      mode="tags"
      size="small"
      aria-label={label}
      placeholder="names; boll* takes all that fit"
      value={[...names]}
      options={known.map((n) => ({ value: n, label: n }))}
      tokenSeparators={[',']}
      onChange={(typed) => onSave(expanded(typed, known))}
    />
  );
}

/** Names with each that has a star replaced by all that it fits. */
export function expanded(typed: readonly string[], known: readonly string[]): string[] {
  const all = typed.flatMap((name) => {
    if (!name.includes('*')) return [name];
    const parts = name.split('*').map((part) => part.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'));
    const fits = new RegExp(`^${parts.join('.*')}$`);
    return known.filter((n) => fits.test(n));
  });
  return [...new Set(all)];
}
