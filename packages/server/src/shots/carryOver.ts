import type { CarriedShot, Shot } from '@june-haze/contract';
import { describeError, RequestError } from '../errors.ts';
import { applyRow, proveReference, type MatchPlaces } from './match.ts';
import { requireShot } from './shotRows.ts';
import { readShot } from './shots.ts';

/**
 * Sets a shot's config, viewing and the space of its render on other shots, each with its own exposure, and proves each that has a reference. One
 * that cannot take them says why and is left as it was. Throws a 400 RequestError where the shot itself has no render.
 */
export async function carryOver(context: MatchPlaces, from: Shot, to: readonly string[]): Promise<CarriedShot[]> {
  const source = from.sources.find((s) => s.id === from.match.source);
  if (!source)
    throw new RequestError(400, 'There is no render whose space could be carried over: bring one in at Intake.');
  const carried: CarriedShot[] = [];
  for (const id of to) carried.push(await carryTo(context, from, source.declaredSpace, id));
  return carried;
}

async function carryTo(context: MatchPlaces, from: Shot, space: string | null, id: string): Promise<CarriedShot> {
  const { db } = context;
  let name = '';
  try {
    const other = await readShot(db, await requireShot(db, id));
    name = other.name;
    const own = other.sources.find((s) => s.id === other.match.source);
    const { exposure } = other.viewing;
    const { config, variables } = from.colour;
    await applyRow(
      context,
      id,
      other.match.source,
      { ...from.viewing, exposure, configId: config, space: space ?? own?.declaredSpace ?? 'Linear Rec.709' },
      variables,
    );
    const now = await readShot(db, await requireShot(db, id));
    if (now.match.reference !== null && now.match.proof === null)
      await proveReference(context, await requireShot(db, id), now.match);
    const { proofs } = await readShot(db, await requireShot(db, id));
    return { id, name, proof: proofs.match, problem: null };
  } catch (error) {
    const [status, message] = describeError(error);
    if (status === 500) console.error('carrying over:', error);
    return { id, name, proof: null, problem: message };
  }
}
