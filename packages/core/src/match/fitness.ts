import type { Heap } from '../kernel/heap.ts';
import { throughSteps } from './candidates.ts';
import type { Decided } from './decide.ts';
import type { CodePicture } from './pictures.ts';
import type { LeftOver } from './leftOver.ts';
import { savedBy } from './mistakes.ts';
import type { Registered } from './register.ts';
import type { Guess } from './search.ts';

/** Whether a picture can show how a render must look; what speaks against it, in sentences. */
export interface Fitness {
  readonly fit: boolean;
  readonly doubts: readonly string[];
}

/** Below this both do not grow lighter and darker at the same places: they show different things. */
const leastAgreement = 0.72;

/** Whether a picture shows what its frame shows. */
export const showsItsFrame = ({ agreement }: Pick<Registered, 'agreement'>): boolean => agreement >= leastAgreement;

/** What speaks against a picture as a reference, as far as it shows in its pixels. */
export function fitness(
  { guess, difference, made }: Decided,
  { codes, picture }: { readonly codes: Uint8ClampedArray; readonly picture: CodePicture },
  left: LeftOver,
  registered: Registered,
  heap: Heap,
): Fitness {
  const doubts: string[] = [];
  const { registration } = registered;
  if (!showsItsFrame(registered))
    doubts.push(
      'It does not show the same as the frame: edges lie elsewhere. It may be of another frame or of another state of the render.',
    );
  if (left.local) doubts.push(`Only parts of it differ: ${left.words}`);
  // A JPEG's own coding lies at edges and in calm places alike.
  else if (!picture.jpeg && !left.local) doubts.push(...grainDoubts(made, codes, picture.width));
  if (difference.maxCode <= withoutView) doubts.push(...viewDoubts(guess, heap));
  if (registration.scale !== 1) doubts.push('It is smaller than the frame: single pixels cannot be compared.');
  if (registration.shift.some((s) => s !== 0))
    doubts.push(`It lies ${registration.shift.map(Math.abs).join(' and ')} pixels off the frame, right and down.`);
  return { fit: !doubts.length, doubts };
}

/** Neighbours that differ by less than the one are calm, by more than the other an edge, in codes. */
const [calmCodes, edgeCodes] = [6, 12];
/** At edges alone: so many codes there, and so many times what calm places are off by. As grain: so many codes in calm places. */
const [offAtEdges, timesCalm, offAsGrain] = [2, 5, 1];
/** Neighbours of grain differ by more than this share of what they are off by; those of a curve or a glow by far less. */
const grainShare = 0.9;

/** What speaks of another filter, or of another noise: differences at edges alone, or from pixel to pixel everywhere. */
function grainDoubts(made: Uint8ClampedArray, codes: Uint8ClampedArray, width: number): string[] {
  const [calm, edges] = [
    { sum: 0, count: 0, steps: 0 },
    { sum: 0, count: 0, steps: 0 },
  ];
  for (let i = 4 * width; i < made.length - 4 * width; i += 4) {
    let range = 0;
    let [off, step] = [0, 0];
    for (let c = i; c < i + 3; c++) {
      for (const by of [-4, 4, -4 * width, 4 * width]) range = Math.max(range, Math.abs(made[c + by]! - made[c]!));
      off += Math.abs(codes[c]! - made[c]!) / 3;
      step += Math.abs(codes[c]! - made[c]! - (codes[c + 4]! - made[c + 4]!)) / 3;
    }
    const own = range <= calmCodes ? calm : range >= edgeCodes ? edges : undefined;
    if (own) {
      own.sum += off;
      own.steps += step;
      own.count++;
    }
  }
  const [inCalm, atEdges] = [calm, edges].map(({ sum, count }) => sum / Math.max(1, count)) as [number, number];
  if (atEdges >= offAtEdges && atEdges >= timesCalm * inCalm)
    return ['Only edges differ: it was resized with another filter, or sharpened. Save it at the size of the render.'];
  if (inCalm >= offAsGrain && calm.steps > grainShare * calm.sum)
    return [
      'It differs by grain everywhere: it may show an unfinished state of the render, another noise, or one whose noise was taken out.',
    ];
  return [];
}

/** A picture this near to a row was made by it, in codes. */
const withoutView = 2;

/** Whether a view that made a picture has no tone curve: a grey of 1 is white already, and one of 0.18 perhaps a code of 0.18. */
function viewDoubts(guess: Guess, heap: Heap): string[] {
  const greys = [0.18, 1];
  const shown = throughSteps(guess.view.steps, heap, greys.length, (i) => [greys[i]!, greys[i]!, greys[i]!]);
  const [middle, white] = [savedBy(guess, shown[0]!), shown[3]!];
  if (white < 0.995) return [];
  return Math.abs(middle - 0.18) < 0.01
    ? ['It looks saved without a view: linear numbers were written as codes.']
    : [
        'It looks saved without a tone curve: highlights are cut off at 1. Check that the renderer’s view was on as it was saved.',
      ];
}
