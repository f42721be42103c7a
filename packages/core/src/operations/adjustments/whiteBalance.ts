import { apply3, invert3, multiply3 } from '../../colour/matrix.ts';
import { adaptation, toXyz } from '../../colour/primaries.ts';
import { whiteOfLight } from '../../colour/whiteOfLight.ts';
import { adjustment } from '../adjustment.ts';
import { choice, number, numbers } from '../parameters.ts';

/** The light that changes nothing, in kelvin: near daylight. */
const neutral = 6500;

export const whiteBalance = adjustment({
  kind: 'whiteBalance',
  title: 'White balance',
  does: 'Takes the colour of a light out: that of a temperature and tint, or of a colour that was picked and shall be grey.',
  published:
    'von Kries scaling of cone responses, Bradford (ICC.1:2022, annex E) or CAT02 (CIE 159:2004); locus of black bodies by M. Krystek (Color Res. Appl. 10, 1985)',
  search: ['temperature', 'kelvin', 'neutral', 'grey', 'adapt'],
  parameters: {
    kelvin: number('Light', neutral, [1700, 15000], { unit: 'K', soft: [2500, 12000], step: 10, scale: 'log' }),
    tint: number('Tint', 0, [-0.05, 0.05], { unit: 'Duv', step: 0.0005 }),
    picked: numbers('Picked', ['Red', 'Green', 'Blue'], [0, 0, 0], [0, 1e6]),
    method: choice(
      'By',
      [
        ['bradford', 'Bradford'],
        ['cat02', 'CAT02'],
      ],
      'bradford',
    ),
  },
  alpha: 'straight',
  choosesSpace: true,
  compile: ({ kelvin, tint, picked, method }, { colour, space }) => {
    const primaries = colour.linearTwin(space)?.primaries;
    if (!primaries) throw new Error(`it needs linear light of known primaries, and those of ${space} are not known.`);
    const there = toXyz(primaries);
    const byHand = picked.some((v) => v > 0);
    const [x, y, z] = apply3(there, picked as unknown as [number, number, number]);
    const from = byHand ? ([x / (x + y + z), y / (x + y + z)] as const) : whiteOfLight(kelvin, tint);
    const to = byHand ? primaries.white : whiteOfLight(neutral, 0);
    if (from[0] === to[0] && from[1] === to[1]) return [];
    return [{ kind: 'matrix', matrix: multiply3(invert3(there), multiply3(adaptation(from, to, method), there)) }];
  },
});
