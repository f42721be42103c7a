import { useState } from 'react';

interface Props {
  src: string;
  className?: string;
  /** Told apart from the rest: fetched before others. */
  first?: boolean;
}

/** A small picture of a pass. While it is being made, and where it cannot be, it says so in its place. */
export function SmallPicture({ src, className = 'thumb', first = false }: Props) {
  const [made, setMade] = useState<{ src: string; well: boolean }>();
  const known = made?.src === src ? made : undefined;
  return (
    <span className={`${className} small-picture${known ? '' : ' making'}`}>
      <img
        src={src}
        alt=""
        draggable={false}
        loading={first ? 'eager' : 'lazy'}
        fetchPriority={first ? 'high' : 'auto'}
        hidden={known?.well === false}
        onLoad={() => setMade({ src, well: true })}
        onError={() => setMade({ src, well: false })}
      />
      {!known && <span className="word">being made</span>}
      {known?.well === false && <span className="word">cannot be shown</span>}
    </span>
  );
}
