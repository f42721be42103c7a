import { Button } from 'antd';
import { KeyRound } from 'lucide-react';

interface Props {
  label: string;
  frame: number;
  /** Whether a key lies at the frame: then it is taken away. */
  here: boolean;
  onClick: () => void;
}

/** Keys numbers at the frame that is seen, or takes their key away. */
export function KeyButton({ label, frame, here, onClick }: Props) {
  return (
    <Button
      size="small"
      type="text"
      className="key-button"
      icon={<KeyRound size={12} />}
      aria-label={here ? `Take the key of ${label} away` : `Key ${label}`}
      aria-pressed={here}
      title={here ? `Keyed at frame ${frame}: take the key away` : `Key it at frame ${frame}`}
      onClick={onClick}
    />
  );
}
