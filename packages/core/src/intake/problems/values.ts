import { dataRoles, type PassRole } from '../../sequence/passes.ts';
import { largestHalf, type ChannelStatistics } from '../statistics.ts';
import { sourcePasses, type LookedMaterial, type SurveySource } from '../survey.ts';
import type { Problem, ProblemKind } from './problem.ts';

/** One measured pass over all measured frames: which frames have how many of something. */
function count(
  material: LookedMaterial,
  pass: string,
  pick: (s: ChannelStatistics, type: string, component: string) => number,
): { frames: number[]; samples: number } {
  const frames: number[] = [];
  let samples = 0;
  for (const m of material.measures) {
    const channels = m.passes.find((p) => p.pass === pass)?.channels ?? [];
    const n = channels.reduce((sum, c) => sum + pick(c.statistics, c.type, c.component), 0);
    if (n > 0) {
      frames.push(m.frame);
      samples += n;
    }
  }
  return { frames, samples };
}

/** Roles whose values may be anything: any bit pattern is legal in IDs. */
const anything: ReadonlySet<PassRole> = new Set<PassRole>(['id-matte']);

/** NaN, infinity, overflow of halves and negative light, counted over the measured frames. */
export function valueProblems(material: LookedMaterial, source: SurveySource): Problem[] {
  const lowest = (pass: string) =>
    Math.min(
      ...material.measures.flatMap(
        (m) => m.passes.find((p) => p.pass === pass)?.channels.map((c) => c.statistics.minimum) ?? [],
      ),
    );
  return sourcePasses(material).flatMap(({ pass }): Problem[] => {
    if (anything.has(pass.role)) return [];
    const data = dataRoles.has(pass.role);
    const found: Problem[] = [];
    const report = (kind: ProblemKind, { frames, samples }: { frames: number[]; samples: number }, words: string) => {
      if (samples > 0)
        found.push({
          kind,
          source: source.id,
          pass: pass.name,
          file: null,
          frames,
          sampled: !material.full,
          text: `${samples} ${samples === 1 ? 'sample' : 'samples'} of ${pass.name} ${words}`,
        });
    };
    // An infinite depth is a sky.
    const bad = count(material, pass.name, (s) => (pass.role === 'depth' ? s.nan : s.nan + s.infinite));
    report('non-finite', bad, 'are not numbers or infinite');
    if (data) return found;
    const beyond = count(material, pass.name, (s, type) => s.beyondHalf + (type === 'half' ? s.positiveInfinite : 0));
    report('half-overflow', beyond, `reach ${largestHalf}, the largest that a half holds`);
    const negative = count(material, pass.name, (s, _, component) => (component === 'A' ? 0 : s.negative));
    report('negative-values', negative, `are below 0, down to ${Number(lowest(pass.name).toPrecision(3))}`);
    return found;
  });
}

/** Depth that runs towards the camera, and colour that is not multiplied as it is said to be. */
export function meaningProblems(material: LookedMaterial, source: SurveySource, alpha = source.alpha): Problem[] {
  const found: Problem[] = [];
  const about = { source: source.id, file: null, sampled: !material.full };
  const reversed = material.measures.filter((m) => m.depth?.verdict.reversed);
  const right = material.measures.filter((m) => m.depth && !m.depth.verdict.reversed);
  if (reversed.length && !right.length) {
    const { pass, verdict } = reversed[0]!.depth!;
    found.push({
      ...about,
      kind: 'depth-reversed',
      pass,
      frames: reversed.map((m) => m.frame),
      text: `larger values of ${pass} are nearer: ${verdict.because} ${verdict.because.includes(' and ') ? 'say' : 'says'} so`,
    });
  }
  const against = material.measures.filter((m) => m.alpha !== undefined && m.alpha !== alpha);
  const agreeing = material.measures.filter((m) => m.alpha === alpha);
  if (alpha !== 'none' && against.length > agreeing.length)
    found.push({
      ...about,
      kind: 'alpha-mismatch',
      pass: null,
      frames: against.map((m) => m.frame),
      text: `taken as ${alpha}, but soft edges look ${against[0]!.alpha}`,
    });
  return found;
}
