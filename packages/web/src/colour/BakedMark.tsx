import { Stamp } from 'lucide-react';

/** The mark of everything that is in the pixels and cannot be taken out again. */
export function BakedMark({ words, brief = false }: { words: string; brief?: boolean }) {
  const about = 'In the pixels of the files: it cannot be taken out again';
  return (
    <span className="baked" title={`${words}. ${about}`}>
      <Stamp size={12} aria-hidden /> {brief ? 'baked' : `baked: ${words}`}
    </span>
  );
}
