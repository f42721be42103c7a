import { colourSpaces } from '../colour/spaces.ts';
import type { Evidence } from './evidence.ts';

/** Tokens in file names that name a space; the first that fits wins. Common practice, no source. */
const nameTokens: readonly (readonly [RegExp, string])[] = [
  [/acescct/, 'ACEScct'],
  [/acescc(?![a-z])/, 'ACEScc'],
  [/acescg|lin[-_. ]?ap1/, 'ACEScg'],
  [/aces2065|lin[-_. ]?ap0/, 'ACES2065-1'],
  [/lin(ear)?[-_. ]?(srgb|rec\.?709)|(srgb|rec\.?709)[-_. ]?lin(ear)?(?![a-z])/, 'Linear Rec.709'],
  [/lin(ear)?[-_. ]?rec\.?2020/, 'Linear Rec.2020'],
  [/lin(ear)?[-_. ]?p3/, 'Linear P3-D65'],
  [/s-?log-?3.*cine/, 'S-Log3 S-Gamut3.Cine'],
  [/s-?log-?3/, 'S-Log3 S-Gamut3'],
  [/(?<![a-z])log-?c-?4(?![a-z0-9])/, 'LogC4'],
  [/(?<![a-z])log-?c-?3?(?![a-z0-9])/, 'LogC3'],
  [/log3g10/, 'Log3G10'],
  [/(?<![a-z])v-?log(?![a-z])/, 'V-Log'],
  [/display[-_. ]?p3/, 'Display P3'],
  [/srgb/, 'sRGB'],
  [/bt\.?1886|rec\.?1886/, 'BT.1886'],
  [/rec\.?709|bt\.?709/, 'Rec.709'],
  [/(?<![a-z])(st2084|pq)(?![a-z])/, 'PQ'],
  [/(?<![a-z])hlg(?![a-z])/, 'HLG'],
];

/** A word that says linear light and not in which primaries. */
const linearWord = /(?<![a-z])(lin|linear|scenelinear)(?![a-z])/;

/** What a file's name says of its space: a token of the trade, or a name or alias of a known space as words of their own. */
export function nameEvidence(name: string): Evidence[] {
  const lower = name.toLowerCase();
  const token = nameTokens.find(([pattern]) => pattern.test(lower));
  if (token) return [{ from: 'file name', says: token[1], space: token[1] }];
  const words = ` ${lower.replace(/[._\- ]+/g, ' ')} `;
  for (const space of colourSpaces) {
    const found = [space.name, ...space.aliases].find(
      (a) => a.length >= 5 && words.includes(` ${a.toLowerCase().replace(/[._\- ]+/g, ' ')} `),
    );
    if (found) return [{ from: 'file name', says: found, space: space.name }];
  }
  return linearWord.test(lower) ? [{ from: 'file name', says: 'linear, primaries not said', about: 'linear' }] : [];
}
