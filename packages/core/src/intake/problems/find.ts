import type { LookedMaterial, SurveySource } from '../survey.ts';
import { betweenSources } from './between.ts';
import { colourProblems } from './colour.ts';
import { frameProblems } from './frames.ts';
import type { Problem } from './problem.ts';
import { shapeProblems } from './shape.ts';
import { meaningProblems, valueProblems } from './values.ts';

/** Everything that is wrong with material, source by source, then between sources. `rate` is the shot's, where there is one. */
export function findProblems(
  all: readonly { readonly material: LookedMaterial; readonly source: SurveySource }[],
  rate?: number,
): Problem[] {
  const found = [
    ...all.flatMap(({ material, source }) => [
      ...frameProblems(material, source),
      ...shapeProblems(material, source),
      ...colourProblems(source),
      ...valueProblems(material, source),
      ...meaningProblems(material, source),
    ]),
    ...betweenSources(
      all.map((a) => a.source),
      rate,
    ),
  ];
  // What is wrong within a source is not said again in comparison with others.
  return found.filter((p, i) => p.file !== null || found.findIndex((q) => sameFault(p, q)) === i);
}

const sameFault = (a: Problem, b: Problem) => a.kind === b.kind && a.source === b.source && a.pass === b.pass;
