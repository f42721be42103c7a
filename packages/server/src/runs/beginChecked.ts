import { keepsFromWriting, type OutputSettings } from '@june-haze/contract';
import { RequestError } from '../errors.ts';
import { checkOutput, type CheckPlaces } from '../shots/preCheck/checkOutput.ts';
import type { Runs } from './runs.ts';

interface BeginOptions {
  readonly overwrite: boolean;
  /** Other frames than the output's own. */
  readonly range?: Partial<Pick<OutputSettings, 'firstFrame' | 'lastFrame'>>;
  /** Why every line may be as it is that somebody has to accept; left out where only those count that were accepted on the page. */
  readonly reason?: string;
}

/**
 * Begins a run of an output when nothing of the list before writing keeps it from that, with what was accepted and why. Returns the run's id. Throws a
 * 400 RequestError for what cannot be written, a 409 one for what has to be accepted first.
 */
export async function beginChecked(
  context: CheckPlaces & { readonly runs: Runs },
  outputId: string,
  { overwrite, range, reason }: BeginOptions,
): Promise<string> {
  const { items, output, settings } = await checkOutput(context, outputId, range);
  const now = new Date().toISOString();
  const answered = items.map((item) =>
    item.weight === 'ask' && !item.accepted && reason !== undefined ? { ...item, accepted: { reason, at: now } } : item,
  );
  const kept = answered.filter(keepsFromWriting);
  const stop = kept.find((i) => i.weight === 'stop');
  if (stop) throw new RequestError(400, stop.text);
  if (kept.length)
    throw new RequestError(
      409,
      `${kept.map((i) => i.text).join(' ')} Put ${kept.length === 1 ? 'it' : 'them'} right, or accept ${kept.length === 1 ? 'it' : 'them'} with a reason.`,
    );
  const accepted = answered.flatMap((i) => (i.accepted ? [{ text: i.text, ...i.accepted }] : []));
  return context.runs.begin(output.id, { settings, overwrite, accepted });
}
