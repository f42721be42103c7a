import { stopsOf, type Vector3 } from '@june-haze/core';
import type { Source } from '@june-haze/contract';
import type { ProbeAnswer } from '../engine/messages.ts';

export const figure = (x: number): string =>
  Number.isFinite(x) && (Math.abs(x) >= 1000 || (x !== 0 && Math.abs(x) < 0.0005)) ? x.toExponential(2) : x.toFixed(4);

const code = (x: number, pixels: number) => (pixels === 1 ? x.toFixed(0) : x.toFixed(1));

/** How bright, in stops from 18 % grey. */
export function stopsWords(working: ProbeAnswer['working'], { luminance, holds }: ProbePlace): string {
  if (holds !== 'light') return '';
  const stops = stopsOf(luminance.reduce((sum, w, i) => sum + w * working[i]!, 0));
  if (stops === -Infinity) return 'black';
  return `${stops >= 0 ? '+' : '−'}${Math.abs(stops).toFixed(2)} stops`;
}

export interface ProbePlace {
  readonly sources: readonly Source[];
  readonly workingSpace: string;
  readonly display: string;
  readonly luminance: Vector3;
  /** What the numbers of what is looked at are: light of the working space, codes of a screen, or data that is neither. */
  readonly holds: 'light' | 'codes' | 'data';
}

/** The numbers of a probe line by line: what they are, and red, green, blue. */
export function probeLines(
  { declared, working, codes, pixels }: ProbeAnswer,
  { sources, workingSpace, display, holds }: ProbePlace,
): readonly (readonly [label: string, values: readonly string[]])[] {
  if (holds === 'data') return [['numbers', working.slice(0, 3).map(figure)]];
  if (holds === 'codes') return [['shown untouched', codes.map((c) => code(c, pixels))]];
  const source = sources.find((s) => s.id === declared?.sourceId);
  return [
    ...(source && declared
      ? [[`declared ${source.declaredSpace ?? 'nothing'}`, declared.values.map(figure)] as const]
      : []),
    [`working ${workingSpace}`, working.slice(0, 3).map(figure)],
    [`shown ${display}`, codes.map((c) => code(c, pixels))],
  ];
}

/** A probe as text, to be pasted somewhere: tabs between, a line a space. */
export function probeText(where: string, answer: ProbeAnswer, place: ProbePlace): string {
  const lines = probeLines(answer, place).map(([label, values]) => [label, ...values].join('\t'));
  return [`${where}\t${stopsWords(answer.working, place)}\talpha ${answer.working[3].toFixed(4)}`, ...lines].join('\n');
}
