import { adjustmentsOf, type Entry, type LedgerDocument } from './document.ts';

/** Something in a ledger's order that changes what it means. */
export interface OrderWarning {
  readonly entry: string;
  readonly message: string;
}

const acting = (e: Entry) => adjustmentsOf(e).filter((a) => a.enabled);
const hasView = (e: Entry): boolean => acting(e).some((a) => a.kind === 'view');
const hasLook = (e: Entry): boolean => acting(e).some((a) => a.kind === 'look' || a.kind === 'lut');
/** Light that is summed, or taken away. */
const isLight = (e: Entry): boolean => e.kind !== 'finish' && (e.operation === 'plus' || e.operation === 'minus');

/**
 * What stands where it does something else than it seems to: a grade after a view, codes of a display added to light, light added behind a
 * look or a finish, a finish after an encoding. Common practice, no source.
 */
export function orderWarnings({ entries }: Pick<LedgerDocument, 'entries'>): OrderWarning[] {
  const warnings: OrderWarning[] = [];
  const warn = (e: Entry, message: string) => warnings.push({ entry: e.id, message });
  let encodedBy: Entry | undefined;
  let lookBy: Entry | undefined;
  let finishedBy: Entry | undefined;
  for (const e of entries.filter((each) => each.enabled)) {
    afterItsView(e).forEach((m) => warn(e, m));
    if (encodedBy)
      warn(e, `It works on the codes that the view of ${encodedBy.name} made, not on light: move it above.`);
    else if (lookBy && isLight(e))
      warn(e, `It is added behind the look of ${lookBy.name}, which does not act on it: move it above.`);
    else if (finishedBy && isLight(e) && e.kind === 'pass')
      warn(e, `It is added behind ${finishedBy.name}, which does not act on it: move it above.`);
    if (hasView(e) && e.kind !== 'finish' && e.operation === 'plus' && entries.length > 1)
      warn(e, 'It adds codes of a display to light: take its view off, or put the view at the end.');
    if (e.kind === 'subtotal') warnings.push(...orderWarnings(e));
    if (e.kind !== 'finish') continue;
    finishedBy ??= e;
    if (hasView(e)) encodedBy ??= e;
    if (hasLook(e)) lookBy ??= e;
  }
  return warnings;
}

/** Of a row: adjustments that come after its own view. */
function afterItsView(e: Entry): string[] {
  const kinds = acting(e).map((a) => a.kind);
  const view = kinds.indexOf('view');
  const after = view < 0 ? [] : kinds.slice(view + 1);
  return after.length
    ? [`Its ${after.join(' and ')} ${after.length === 1 ? 'works' : 'work'} on codes: put the view last.`]
    : [];
}
