import { Stamp } from 'lucide-react';

/** The mark of everything that is in the pixels and cannot be taken out again. */
export function BakedMark({ words }: { words: string }) {
  return (
    <span className="baked" title="In the pixels of the files: it cannot be taken out again">
      <Stamp size={12} aria-hidden /> baked: {words}
    </span>
  );
}
