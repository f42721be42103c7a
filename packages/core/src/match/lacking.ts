import type { Heap } from '../kernel/heap.ts';
import { probeColours, probed } from './candidates.ts';
import { savedBy } from './mistakes.ts';
import type { Guess } from './search.ts';

/** Which colours a better frame would need, so that two guesses can be told apart: those of the probe for which they lie farthest apart. */
export function lackingColours(a: Guess, b: Guess, heap: Heap): string {
  const [x, y] = [a, b].map((g) => probed(g.view.steps, heap, g.space.toBase, g.exposure));
  let far = { at: 0, codes: 0 };
  for (let i = 0; i < x!.length; i += 3)
    for (let c = 0; c < 3; c++) {
      const codes = 255 * Math.abs(savedBy(a, x![i + c]!) - savedBy(b, y![i + c]!));
      if (codes > far.codes) far = { at: i, codes };
    }
  const other = `${b.space.name} · ${b.view.display} · ${b.view.view}`;
  return `This picture cannot tell ${a.space.name} · ${a.view.display} · ${a.view.view} from ${other}: both make the same of its colours. A frame with ${colourWords(far.at)} would tell, by ${Math.round(far.codes)} codes.`;
}

/** A probe colour in words. */
function colourWords(at: number): string {
  const [r, g, b] = [probeColours[at]!, probeColours[at + 1]!, probeColours[at + 2]!];
  const [most, least] = [Math.max(r, g, b), Math.min(r, g, b)];
  const stops = Math.log2(most / 0.18);
  const level = stops > 2 ? 'bright' : stops < -4 ? 'dark' : 'middling';
  if (most - least < 0.05 * most) return `${level} greys`;
  const hue =
    r === most
      ? g > b * 1.4 + 0.1 * most
        ? 'yellows and oranges'
        : b > g * 1.4 + 0.1 * most
          ? 'magentas'
          : 'reds'
      : g === most
        ? b > r + 0.1 * most
          ? 'cyans'
          : 'greens'
        : r > g + 0.1 * most
          ? 'violets'
          : 'blues';
  return `${level} ${least < 0.4 * most ? 'pure ' : 'pale '}${hue}`;
}
