import { Input } from 'antd';
import { useState } from 'react';

interface Props {
  id: string;
  /** What the shot gives it; "" when the config's own value holds. */
  given: string;
  /** The value in force. */
  value: string | undefined;
  /** Asks for a value; `refused` is called when it cannot be had. */
  onChange: (text: string, refused: () => void) => void;
}

/** The value of one of a config's variables: typed, kept on Enter or when left, put back when it is refused. */
export function VariableField({ id, given, value, onChange }: Props) {
  const [typed, setTyped] = useState<string>();
  const settle = () => {
    const text = typed?.trim();
    if (text === undefined || text === given) setTyped(undefined);
    else onChange(text, () => setTyped(undefined));
  };
  return (
    <Input
      id={id}
      size="small"
      value={typed ?? given}
      placeholder={value ?? 'no value'}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={settle}
      onPressEnter={(e) => e.currentTarget.blur()}
    />
  );
}
