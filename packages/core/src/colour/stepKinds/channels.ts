import { stepKind, type PlaneKind, type PreparedPlane, type StepKind, type StepOf } from '../stepKind.ts';
import type { ColourStep, PlaneStep } from '../steps.ts';

type Channels = StepOf<'channels'>['each'];

type KindOf = (step: PlaneStep) => PlaneKind;

/** Another step for each channel, of the kinds that `kindOf` knows. */
export const channelsOf = (kindOf: KindOf): StepKind =>
  stepKind<StepOf<'channels'>>({
    kind: 'channels',
    prepare({ each }, heap) {
      type Three = [PreparedPlane, PreparedPlane, PreparedPlane];
      const [first, second, third] = each.map((s) => kindOf(s).preparePlane(s, heap)) as Three;
      return (r, g, b, n) => {
        first(r, n);
        second(g, n);
        third(b, n);
      };
    },
    invert({ each }) {
      const turned = each.map((s) => kindOf(s).invert(s)[0]) as unknown as [PlaneStep, PlaneStep, PlaneStep];
      return [{ kind: 'channels', each: turned }];
    },
    merge: (before, step) => (before.kind === 'channels' ? left(before.each, step.each, kindOf) : undefined),
    cutsOff({ each }) {
      const ends = each.map((s) => kindOf(s).cutsOff?.(s)?.[0]);
      const [r, g, b] = ends;
      return r && g && b ? [r, g, b] : undefined;
    },
  });

/** Pairs in all three channels must leave the same. */
function left(first: Channels, second: Channels, kindOf: KindOf): readonly ColourStep[] | undefined {
  const each = first.map((step, c) => kindOf(second[c]!).merge?.(step, second[c]!));
  const [r] = each;
  return r && each.every((l) => l && JSON.stringify(l) === JSON.stringify(r)) ? r : undefined;
}
