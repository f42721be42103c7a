import type { Parameter, ParameterTable } from './parameters.ts';
import { adjustments, blends, finishes, mattes } from './registry.ts';

/** A definition as data: what it is called, what it does and takes. */
export interface OperationFacts {
  readonly group: 'blend' | 'adjustment' | 'matte' | 'finish';
  readonly kind: string;
  readonly title: string;
  readonly does: string;
  readonly published: string;
  /** Of a blend: whether it leaves the total's alpha; of an adjustment: whether it works on straight colour. */
  readonly alpha?: string;
  /** Of an adjustment: whether it can be told the space that it works in, and the one that it takes otherwise. */
  readonly space?: string | null;
  readonly parameters: Readonly<Record<string, Parameter>>;
}

/** Everything that the registry holds, in its order. */
export function describeOperations(): OperationFacts[] {
  const common = (d: { kind: string; title: string; does: string; published: string }) => ({
    kind: d.kind,
    title: d.title,
    does: d.does,
    published: d.published,
  });
  return [
    ...blends.map((d) => ({ group: 'blend' as const, ...common(d), alpha: d.alpha, parameters: {} })),
    ...adjustments.map((d) => ({
      group: 'adjustment' as const,
      ...common(d),
      alpha: d.alpha,
      space: d.choosesSpace ? (('usualSpace' in d ? d.usualSpace : undefined) ?? 'working') : null,
      parameters: d.parameters as ParameterTable,
    })),
    ...mattes.map((d) => ({ group: 'matte' as const, ...common(d), parameters: d.parameters as ParameterTable })),
    ...finishes.map((d) => ({ group: 'finish' as const, ...common(d), parameters: d.parameters as ParameterTable })),
  ];
}

const groups = [
  ['blend', 'Blends', 'T is the total before, S the entry, a alpha. With a mix or matte m: T + m · (result − T).'],
  ['adjustment', 'Adjustments', 'v is a channel of straight colour, in the space that the adjustment works in.'],
  ['matte', 'Mattes', 'Planes of 0 … 1 that say where an entry, an adjustment or a finish acts.'],
  ['finish', 'Finishes', 'Changes of the whole running total, which may look at neighbours.'],
] as const;

/** The documentation's page of all operations, in Markdown. */
export function operationsPage(): string {
  const all = describeOperations();
  const part = ([group, title, about]: (typeof groups)[number]) =>
    [`## ${title}`, '', about, '', ...all.filter((d) => d.group === group).flatMap(entry)].join('\n');
  return `# Operations

Made from the registry by \`june operations\`; a test holds that this page is what it prints.

${groups.map(part).join('\n')}`;
}

function entry(d: OperationFacts): string[] {
  const keys = Object.entries(d.parameters);
  return [
    `### ${d.title} (\`${d.kind}\`)`,
    '',
    d.does,
    '',
    ...(keys.length ? [...keys.map(([key, p]) => `- \`${key}\`: ${parameterWords(p)}`), ''] : []),
    ...(d.space === undefined || d.space === null ? [] : [`Works in the ${spaceWords(d.space)}, or in a chosen one.`]),
    `Source: ${d.published}.`,
    '',
  ];
}

const spaceWords = (space: string) => (space === 'working' ? 'working space' : `space ${space}`);

const parameterWords = (p: Parameter): string =>
  typeWords(p) + (p.onlyWith === undefined ? '' : `; only while \`${p.onlyWith}\` is not 0`);

function typeWords(p: Parameter): string {
  const title = p.title.toLowerCase();
  switch (p.type) {
    case 'number':
      return `${title}, ${p.range[0]} to ${p.range[1]}${p.unit ? ` ${p.unit}` : ''}, usually ${p.default}; may be keyed`;
    case 'numbers':
      return `${title}: ${p.names.length} numbers (${p.names.join(', ')}), ${p.range[0]} to ${p.range[1]}, usually ${p.default.join(', ')}; each may be keyed`;
    case 'choice':
      return `${title}: ${p.options.map(([v]) => `\`${v}\``).join(' or ')}, usually \`${p.default}\``;
    case 'points':
      return `${title}: points [in, out] that rise, usually [0, 0] and [1, 1]`;
    case 'corners':
      return `${title}: places [x, y] of the picture, in pixels`;
    case 'names':
      return `${title}: a list of names`;
    case 'lookFile':
      return `${title}: a LUT or CDL of the Library`;
    default:
      return `${title}: the name of a ${p.type}${p.default === null ? ', or null' : ''}`;
  }
}
