import { describe, expect, test } from '@jest/globals';
import { values, type Rgb } from '../colour/run.ts';
import { askReferenceJobs, withTransform, worst, write, type Answer, type Question } from './compare.ts';
import { lutFiles } from './lutFiles.ts';

/** Tolerances: tables forward 2e-5 + 2e-4; inverse of tables 1e-4 + 1e-3, of cubes 1e-3 + 2e-3 (searched, not computed); .csp shapers are resampled by both. */
function tolerance(name: string, inverse: boolean): [number, number] {
  if (/shaped.csp/.test(name)) return inverse ? [2e-3, 5e-3] : [5e-4, 2e-3];
  if (/grade/.test(name)) return [1e-4, 1e-3];
  if (inverse || /inverse/.test(name))
    return /one|flat ends|flat table|falling|table|half/.test(name) ? [1e-4, 1e-3] : [1e-3, 2e-3];
  return [2e-5, 2e-4];
}

describe('every kind of LUT file, both ways, with each interpolation, against the reference library', () => {
  const all = values(true);
  const inside = all.map((v) => v.map((x) => Math.min(Math.max(x, -0.2), 1.3)) as Rgb);
  const interpolations = (name: string) =>
    /cube|three|3dl|csp|spi3d/.test(name) ? ['nearest', 'linear', 'tetrahedral', 'best', 'cubic'] : ['linear'];
  const cases = lutFiles.flatMap((file) =>
    interpolations(file.name).map((interpolation) => {
      const extra = /many.ccc|list.cdl/.test(file.name) ? ', cccid: dusk' : '';
      const text = `!<FileTransform> {src: ${JSON.stringify(file.name)}, interpolation: ${interpolation}${extra}}`;
      const others = Object.entries(file.others ?? {}).map(([name, content]) => [`luts/${name}`, content] as const);
      const written = write(withTransform(text), {
        [`luts/${file.name}`]: file.content,
        ...Object.fromEntries(others),
      });
      const questions: Question[] = [{ name: file.name, from: 'ref', to: 't', values: all, exact: true }];
      if (file.invertible && ['linear', 'tetrahedral'].includes(interpolation))
        questions.push({ name: file.name, from: 't', to: 'ref', values: inside, exact: true });
      return { name: `${file.name}, ${interpolation}`, file, written, questions };
    }),
  );
  const jobs = cases.flatMap(({ written, questions }, i) =>
    questions.map((q) => ({ ...q, config: written.path, case: i })),
  );
  const answers = askReferenceJobs(jobs) as Answer[];

  test.each(cases.map((c, i) => [c.name, i] as const))('%s', (_, i) => {
    const { written, questions, file } = cases[i]!;
    const own = answers.filter((_, k) => jobs[k]!.case === i);
    const results = questions.map((q, k) => worst(written, q, own[k]!, ...tolerance(file.name, k === 1)));
    expect(results.map((r) => (r.excess > 0 ? JSON.stringify(r) : 'within'))).toEqual(questions.map(() => 'within'));
  });
});
