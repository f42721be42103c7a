import { changeRows, walkEntries, type Entry, type LedgerDocument, type PassEntry } from '../ledger/document.ts';
import type { BalanceFault } from './faults.ts';
import { passRow } from './rebuild.ts';

/** A fault in plain words; `mended`: the ledger puts it right. */
export function faultWords(fault: BalanceFault, { mended = false }: { readonly mended?: boolean } = {}): string {
  switch (fault.kind) {
    case 'missing':
      return fault.by === undefined
        ? `${fault.pass} is missing.`
        : `${fault.pass}, multiplied by ${fault.by}, is missing.`;
    case 'twice':
      return `${fault.pass} counts once too often.`;
    case 'exposure': {
      const stops = `${fault.stops > 0 ? '+' : '−'}${Math.abs(fault.stops)} stops`;
      return `${fault.pass} is in another exposure: ${mended ? `its row puts that right by ${stops}` : `it balances with ${stops}`}.`;
    }
  }
}

/**
 * The ledger with a fault mended: what is missing is switched on where it stands, else added behind the last row that no finish stands before, what counts twice is switched
 * off where it was added last, what is in another exposure gets an exposure. `sourceId`: the render that it is balanced against.
 */
export function mend(
  document: LedgerDocument,
  fault: BalanceFault,
  sourceId: string,
  newId: () => string,
): LedgerDocument {
  const own = [...walkEntries(document.entries)].filter(
    (e) => e.kind === 'pass' && e.sourceId === sourceId && e.pass === fault.pass,
  ) as PassEntry[];
  if (fault.kind === 'missing') {
    const off = fault.by === undefined && own.find((e) => !e.enabled && e.operation === 'plus');
    if (!off) return added(document, missingRow(fault, sourceId, newId));
    return {
      ...document,
      entries: changeRows(document.entries, (e) => (e.id === off.id ? { ...e, enabled: true } : e)),
    };
  }
  const rows = own.filter((e) => e.enabled);
  if (fault.kind === 'twice') {
    const last = rows.filter((r) => r.operation === 'plus').at(-1);
    const off = (e: Entry): Entry => (e.id === last?.id ? { ...e, enabled: false } : e);
    return { ...document, entries: changeRows(document.entries, off) };
  }
  if (!rows.length)
    return added(document, exposed(passRow(newId(), sourceId, { name: fault.pass, role: 'other' }), fault.stops));
  const change = (e: Entry): Entry =>
    e.kind === 'pass' && rows.some((r) => r.id === e.id) ? exposed(e, fault.stops) : e;
  return { ...document, entries: changeRows(document.entries, change) };
}

/** So near to what is asked for, in stops, an exposure is the one: found anew from other frames it differs a little. */
const sameExposure = 0.005;

/**
 * Whether a ledger has put a fault right by itself: every row of the pass begins with the exposure that it balances with. Passes are judged as they
 * came, so that such a fault is found again and again; what is missing or twice is not, once it is mended.
 */
export function isMended(document: LedgerDocument, fault: BalanceFault): boolean {
  if (fault.kind !== 'exposure') return false;
  const { balanceAgainst: against } = document;
  const rows = [...walkEntries(document.entries)].filter(
    (e) => e.kind === 'pass' && e.enabled && e.sourceId === against?.sourceId && e.pass === fault.pass,
  );
  const puts = ([first]: PassEntry['adjustments']) =>
    first?.kind === 'exposure' &&
    first.enabled &&
    typeof first.stops === 'number' &&
    Math.abs(first.stops - fault.stops) < sameExposure &&
    [first.red, first.green, first.blue].every((c) => c === 0);
  return rows.length > 0 && rows.every((row) => puts((row as PassEntry).adjustments));
}

/** A row with an exposure before its other adjustments. */
function exposed(row: PassEntry, stops: number): PassEntry {
  const exposure = { kind: 'exposure', enabled: true, stops, red: 0, green: 0, blue: 0 } as const;
  return { ...row, adjustments: [exposure, ...row.adjustments] as PassEntry['adjustments'] };
}

function missingRow(
  { pass, by }: Extract<BalanceFault, { kind: 'missing' }>,
  sourceId: string,
  newId: () => string,
): Entry {
  const light = passRow(newId(), sourceId, { name: pass, role: 'other' });
  if (by === undefined) return light;
  const colour: Entry = { ...passRow(newId(), sourceId, { name: by, role: 'albedo' }), operation: 'multiply' };
  return {
    id: newId(),
    name: `${light.name} by ${by}`,
    kind: 'subtotal',
    enabled: true,
    operation: 'plus',
    mix: 1,
    adjustments: [],
    entries: [light, colour],
  };
}

function added(document: LedgerDocument, row: Entry): LedgerDocument {
  const { entries } = document;
  const finish = entries.findIndex((e) => e.kind === 'finish');
  const at = finish < 0 ? entries.length : finish;
  return { ...document, entries: [...entries.slice(0, at), row, ...entries.slice(at)] };
}
