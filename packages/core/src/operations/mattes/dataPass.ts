import type { Pass } from '../../sequence/passes.ts';
import type { MattePlace, MattePlanes } from '../matte.ts';

/** The planes of a data pass of three components, or of one. Throws a sentence where it has fewer. */
export function dataPlanes(
  { source, pass }: { readonly source: string; readonly pass: string },
  place: MattePlace,
  components: 1 | 3,
): MattePlanes[] {
  const found = place.passes(source).find((p) => p.name === pass);
  if (!found) throw new Error(`there is no pass "${pass}".`);
  return [{ source, part: found.part, colour: channelsOf(found, components), data: true }];
}

function channelsOf({ name, channels }: Pass, components: 1 | 3): [string, string, string] {
  const colours = channels.filter((c) => c.component.toUpperCase() !== 'A');
  const named = (...names: string[]) => colours.find((c) => names.includes(c.component.toUpperCase()))?.name;
  if (components === 1) {
    const one = named('Z', 'R', 'Y') ?? colours[0]?.name;
    if (one === undefined) throw new Error(`the pass ${name} has no channel.`);
    return [one, one, one];
  }
  const three = [named('R', 'X'), named('G', 'Y'), named('B', 'Z')];
  if (three.some((c) => c === undefined)) throw new Error(`the pass ${name} has no three components.`);
  return three as [string, string, string];
}

/** Numbers from here on stand for no surface at all: the sky (common practice, no source). */
export const skyFrom = 1e9;
