import type { Keyed } from '../operations/keyed.ts';
import type { Parameter, ParameterTable } from '../operations/parameters.ts';
import { findAdjustment, findBlend, findFinish, findMatte, type Adjustment } from '../operations/registry.ts';
import { adjustmentsOf, type Entry, type LedgerDocument } from './document.ts';

/** What a ledger does in plain words, a line a row, for who takes it over. `sourceName` says what a source is called. */
export function ledgerWords(document: LedgerDocument, sourceName: (id: string) => string): string[] {
  const { entries, mattes = {} } = document;
  const named = Object.entries(mattes);
  const rows = entries.flatMap((e, i) => entryWords(e, `${i + 1}`, sourceName));
  if (!named.length) return rows;
  return [
    ...rows,
    'Mattes:',
    ...named.map(([name, stored]) => {
      const definition = findMatte(stored.kind);
      const values = definition ? valueWords(definition.parameters, stored, sourceName) : [];
      return `${name}: ${[definition?.title.toLowerCase() ?? stored.kind, ...values].join(', ')}.`;
    }),
  ];
}

function entryWords(entry: Entry, number: string, sourceName: (id: string) => string): string[] {
  const off = entry.enabled ? '' : ' (switched off)';
  const parts = [
    `${number}. ${entry.name}${off}: ${whatOf(entry, sourceName)}`,
    ...adjustmentsOf(entry)
      .filter((a) => a.enabled)
      .map((a) => adjustmentWords(a, sourceName)),
    ...(entry.matte ? [`only where the matte ${entry.matte} is`] : []),
    ...(entry.mix === 1 ? [] : [`mixed in by ${numberWords(entry.mix)}`]),
  ];
  const line = `${parts.join('; ')}.${entry.note ? ` Note: ${entry.note}` : ''}`;
  const inner =
    entry.kind === 'subtotal' ? entry.entries.flatMap((e, i) => entryWords(e, `${number}.${i + 1}`, sourceName)) : [];
  return [line, ...inner];
}

const verbs: Readonly<Record<string, string>> = {
  plus: 'adds',
  minus: 'takes away',
  multiply: 'multiplies by',
  divide: 'divides by',
  over: 'lays over',
  under: 'lays under all above:',
  replace: 'puts in place of all above',
};

function whatOf(entry: Entry, sourceName: (id: string) => string): string {
  if (entry.kind === 'finish') {
    const definition = findFinish(entry.finish);
    if (!definition) return `an unknown finish "${entry.finish as string}"`;
    const values = valueWords(definition.parameters, entry, sourceName);
    return [`${definition.title.toLowerCase()} of all above`, ...values].join(', ');
  }
  const verb =
    verbs[entry.operation] ?? `combines by ${findBlend(entry.operation)?.title.toLowerCase() ?? entry.operation}`;
  if (entry.kind === 'pass') return `${verb} ${entry.pass} of ${sourceName(entry.sourceId)}`;
  if (entry.kind === 'fill') return `${verb} the colour ${entry.colour.map(numberWords).join(' ')}`;
  return `${verb} what these ${entry.entries.length} rows make together`;
}

function adjustmentWords(adjustment: Adjustment, sourceName: (id: string) => string): string {
  const definition = findAdjustment(adjustment.kind);
  if (!definition) return `an unknown adjustment "${adjustment.kind as string}"`;
  const { matte, space } = adjustment as { matte?: string | null; space?: string | null };
  return [
    [definition.title.toLowerCase(), ...valueWords(definition.parameters, adjustment, sourceName)].join(' '),
    ...(space ? [`in ${space}`] : []),
    ...(matte ? [`where the matte ${matte} is`] : []),
  ].join(' ');
}

/** Values that are not as they are at first, each with its title. */
function valueWords(table: ParameterTable, stored: object, sourceName: (id: string) => string): string[] {
  const given = stored as Readonly<Record<string, unknown>>;
  return Object.entries(table).flatMap(([key, p]) => {
    const value = given[key];
    if (value === undefined || value === null || JSON.stringify(value) === JSON.stringify(p.default)) return [];
    const said = p.type === 'source' ? sourceName(String(value)) : oneValue(p, value);
    // What all channels share needs no name.
    return [p.title === 'All' ? said : `${p.title.toLowerCase()} ${said}`];
  });
}

function oneValue(p: Parameter, value: unknown): string {
  switch (p.type) {
    case 'number':
      return `${numberWords(value as Keyed)}${p.unit ? ` ${p.unit}` : ''}`;
    case 'numbers':
      return (value as readonly Keyed[]).map(numberWords).join(' ');
    case 'choice':
      return (p.options.find(([v]) => v === value)?.[1] ?? String(value)).toLowerCase();
    case 'names':
      return (value as readonly string[]).join(', ');
    case 'points':
    case 'corners':
      return (value as readonly (readonly number[])[]).map((pair) => pair.map(rounded).join(' ')).join(', ');
    case 'lookFile':
      return (value as { name: string }).name;
    default:
      return String(value);
  }
}

const rounded = (v: number): string => String(Number(v.toPrecision(4)));

function numberWords(value: Keyed): string {
  if (typeof value === 'number') return rounded(value);
  return `${value.keys.map(([frame, v]) => `${rounded(v)} at ${frame}`).join(', ')} (keyed)`;
}
