import {
  isOneFile,
  placeOfFrame,
  sourcesOfOutput,
  type OutputSettings,
  type PreCheckItem,
  type Shot,
} from '@june-haze/contract';
import { ask, note, warning, type Asked } from './lines.ts';

/** What becomes of bad frames, in the words of the list before writing. */
const onFault = {
  stop: 'will fail; the others are written.',
  hold: 'will hold the last good one.',
  black: 'will be left black.',
} as const;

/** What a source gives outside of the frames that it has. */
const beyondWords = {
  stop: 'writing fails',
  nothing: 'its rows rest',
  hold: 'its first and its last frame are held',
  loop: 'it begins again',
  thereAndBack: 'it runs there and back',
} as const;

const pacedWords = ({ reading: { speed } }: Shot['sources'][number]) =>
  [...(speed < 0 ? ['backwards'] : []), Math.abs(speed) > 1 ? 'frames are left out' : 'frames are repeated'].join(', ');

/** Frames that are not there, ranges that are too short, and spaces that nobody confirmed. */
export function sourceItems({ shot, settings }: Asked): PreCheckItem[] {
  const used = sourcesOfOutput(settings, shot.ledger.document, (e) => e.enabled);
  return shot.sources.filter((s) => used.has(s.id)).flatMap((source) => itemsOfSource(source, settings));
}

function itemsOfSource(source: Shot['sources'][number], settings: OutputSettings): PreCheckItem[] {
  const { name, reading, missing, damaged } = source;
  const items: PreCheckItem[] = [];
  const inRange = (frame: number) =>
    frame >= settings.firstFrame && frame <= settings.lastFrame && Number.isInteger(placeOfFrame(settings, frame));
  const counts = [
    [missing.filter(inRange).length, 'missing'],
    [damaged.filter((d) => inRange(d.frame)).length, 'damaged'],
  ] as const;
  for (const [count, what] of counts) {
    if (!count) continue;
    const stops = reading.onFault === 'stop';
    const then =
      stops && isOneFile(settings)
        ? `will fail, and no ${settings.kind === 'movie' ? 'movie' : 'sheet'} is made of the others.`
        : onFault[reading.onFault];
    const text = `${name}: ${count} ${what} ${count === 1 ? 'frame' : 'frames'} in the range ${then}`;
    items.push(
      stops
        ? ask(text, {
            words: 'Hold the last good one',
            source: { id: source.id, change: { reading: { onFault: 'hold' } } },
          })
        : note(text),
    );
  }
  if (!source.still && (settings.firstFrame < source.firstFrame || settings.lastFrame > source.lastFrame)) {
    const text = `${name} has frames ${source.firstFrame}–${source.lastFrame} only; outside of them ${beyondWords[reading.beyond]}.`;
    items.push(reading.beyond === 'stop' ? warning(text) : note(text));
  }
  if (reading.speed !== 1)
    items.push(note(`${name} runs at ${reading.speed} of its speed, by whole frames: ${pacedWords(source)}.`));
  if (!source.confirmed)
    items.push(
      ask(
        `${name}: its space (${source.declaredSpace ?? 'none'}) is not confirmed by a person.`,
        source.declaredSpace === null
          ? undefined
          : { words: `It is ${source.declaredSpace}`, source: { id: source.id, change: { confirmed: true } } },
      ),
    );
  return items;
}
