import { dataPlanes, skyFrom } from '../mattes/dataPass.ts';
import { finish } from '../finish.ts';
import { choice, name, number, numbers } from '../parameters.ts';
import { exp2Exact } from '../../kernel/exactPower.ts';
import { edgeReach, eachEdgePixel } from './depthEdges.ts';

const f = Math.fround;
/** log2 of e. */
const log2e = 1.4426950408889634;

export const haze = finish({
  kind: 'haze',
  title: 'Haze',
  does: 'Light is lost over distance and the colour of the haze takes its place: T + a · (1 − t) · (colour − T), t = e^(−density · (depth − start)); where alpha is 0 light stays. At soft edges both sides are hazed by their own depth.',
  published:
    'the law of Bouguer, Lambert and Beer (exponential extinction); H. Koschmieder, "Theorie der horizontalen Sichtweite", 1924 (airlight)',
  search: ['fog', 'mist', 'atmosphere', 'depth', 'aerial'],
  parameters: {
    source: name('source', 'Source'),
    pass: name('pass', 'Depth', ['depth']),
    colour: numbers('Colour', ['Red', 'Green', 'Blue'], [0.5, 0.55, 0.6], [0, 1e5], 0.01, 'colour'),
    density: number('Density', 0.02, [0, 1e4], { unit: '1/m', soft: [0, 0.2], step: 0.001, scale: 'log' }),
    start: number('From', 0, [0, 1e9], { soft: [0, 100], step: 0.5, pick: 'data' }),
    most: number('At most', 1, [0, 1]),
    none: choice(
      'Sky is',
      [
        ['far', 'hazed at most'],
        ['clear', 'left clear'],
        ['zero', 'hazed at most, stored as 0'],
      ],
      'far',
    ),
  },
  planes: (values, place) => dataPlanes(values, place, 1),
  nothing: ({ density, most }) => density === 0 || most === 0,
  reach: () => edgeReach,
  run(block) {
    const { values } = block;
    const { density, start, most, none } = values;
    const [r, g, b] = values.colour as [number, number, number];
    const isSky = (d: number) => !(d < skyFrom) || (none === 'zero' && d === 0);
    // How much of the light at a depth is lost.
    const lost = (d: number): number => {
      if (isSky(d)) return none === 'clear' ? 0 : most;
      return most * (1 - exp2Exact(Math.max(-140, -density * Math.max(0, d - start) * log2e)));
    };
    const colour = Float64Array.of(r, g, b);
    eachEdgePixel(block, {
      held: (d) => (isSky(d) ? skyFrom : d),
      amount: lost,
      // Light where nothing covers (a glow, a volume) lies before what is hazed: it stays, and by shares at soft ends.
      change: (v, alpha, c, amount) => {
        const covers = alpha > 0 ? (alpha < 1 ? alpha : 1) : 0;
        return f(v + amount * covers * (colour[c]! - v));
      },
    });
  },
});
