import { AutoComplete } from 'antd';
import { useState } from 'react';

interface Props {
  id?: string;
  label?: string;
  /** An expression; null for what `unset` names. */
  value: string | null;
  names: readonly string[];
  /** What null is called. */
  unset: string;
  /** What "" is called, where it means something else than null. */
  none?: string;
  onChange: (look: string | null) => void;
}

/** Looks of the config: one by name, or an expression such as "+dusk, -warm". */
export function LookField({ id, label, value, names, unset, none, onChange }: Props) {
  const shown = value === null ? unset : value === '' ? (none ?? unset) : value;
  const [typed, setTyped] = useState<string>();
  const settle = (text: string) => {
    setTyped(undefined);
    if (text === shown) return;
    onChange(text === unset ? null : text === none ? '' : text.trim());
  };
  const offered = [unset, ...(none === undefined ? [] : [none]), ...names];
  return (
    <AutoComplete
      id={id}
      aria-label={label}
      size="small"
      value={typed ?? shown}
      options={offered.map((name) => ({ value: name }))}
      onChange={setTyped}
      onSelect={settle}
      onBlur={() => typed !== undefined && settle(typed)}
      onInputKeyDown={(e) => {
        if (e.key === 'Enter' && typed !== undefined) settle(typed);
      }}
    />
  );
}
