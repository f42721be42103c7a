/**
 * The ferry landing: a wet deck over the water on a hazy June morning. Metres, y up, the camera looks along +z.
 * Colours are linear, in ACEScg.
 */
export type Rgb = readonly [number, number, number];

export type Material = {
  readonly name: string;
  readonly albedo: Rgb;
  /** Reflectance at normal incidence; metals carry their colour here. */
  readonly mirror: Rgb;
  /** Half-width of the reflection's spread, as a share of the hemisphere. */
  readonly roughness: number;
  readonly glow?: Rgb;
  readonly pattern?: 'planks' | 'deck' | 'water' | 'band';
};

export type Shape =
  | { readonly kind: 'sphere'; readonly at: Rgb; readonly radius: number }
  | { readonly kind: 'box'; readonly at: Rgb; readonly half: Rgb; readonly turn: number }
  | { readonly kind: 'post'; readonly at: Rgb; readonly radius: number; readonly height: number };

export interface Thing {
  readonly name: string;
  readonly shape: Shape;
  readonly material: Material;
}

const glassy: Rgb = [0.04, 0.04, 0.04];
const paint = (name: string, albedo: Rgb, roughness = 0.35): Material => ({
  name,
  albedo,
  mirror: glassy,
  roughness,
  pattern: 'planks',
});

const iron: Material = { name: 'iron', albedo: [0.05, 0.05, 0.055], mirror: [0.2, 0.2, 0.2], roughness: 0.3 };
const copper: Material = { name: 'copper', albedo: [0.03, 0.015, 0.01], mirror: [0.88, 0.52, 0.33], roughness: 0.03 };
const bollard: Material = {
  name: 'bollard',
  albedo: [0.11, 0.12, 0.14],
  mirror: glassy,
  roughness: 0.4,
  pattern: 'band',
};
const buoyPaint: Material = { name: 'buoy', albedo: [0.5, 0.08, 0.05], mirror: glassy, roughness: 0.3 };
const lanternGlass: Material = {
  name: 'lantern glass',
  albedo: [0.2, 0.16, 0.1],
  mirror: glassy,
  roughness: 0.02,
  glow: [9, 5.6, 2.2],
};

export const deck: Material = {
  name: 'boards',
  albedo: [0.23, 0.16, 0.11],
  mirror: glassy,
  roughness: 0.1,
  pattern: 'deck',
};
export const water: Material = {
  name: 'water',
  albedo: [0.015, 0.04, 0.045],
  mirror: [0.02, 0.02, 0.02],
  roughness: 0.01,
  pattern: 'water',
};
/** The deck ends at this z; beyond it, and beside it, the water lies lower. */
export const deckEnd = 15;
export const deckHalfWidth = 6.5;
export const waterLevel = -0.5;

const box = (name: string, at: Rgb, half: Rgb, turn: number, material: Material): Thing => ({
  name,
  shape: { kind: 'box', at, half, turn },
  material,
});
const ball = (name: string, at: Rgb, radius: number, material: Material): Thing => ({
  name,
  shape: { kind: 'sphere', at, radius },
  material,
});
const post = (name: string, at: Rgb, radius: number, height: number, material: Material): Thing => ({
  name,
  shape: { kind: 'post', at, radius, height },
  material,
});

const lantern = (name: string, x: number, y: number, z: number, r: number): Thing[] => [
  post(`${name} foot`, [x, y, z], r * 0.8, r * 0.5, iron),
  ball(`${name} glass`, [x, y + r * 1.4, z], r, lanternGlass),
  post(`${name} cap`, [x, y + r * 2.25, z], r * 0.62, r * 0.35, iron),
];

/** A bent row of balls, so close that they look like one tapering tube. */
const spout = Array.from({ length: 48 }, (_, i): Thing => {
  const k = i / 47;
  return ball('kettle', [0.76 - 0.36 * k, 0.58 + 0.3 * k + 0.14 * k * k, 5 - 0.1 * k], 0.115 - 0.055 * k, copper);
});

/** A matt board: what charts and cards are painted on. */
const matt = (name: string, albedo: Rgb): Material => ({ name, albedo, mirror: [0, 0, 0], roughness: 1 });

/** Invented paints for the chart: three rows of colours, then six greys from near-white to near-black. */
const patches: readonly Rgb[] = [
  [0.12, 0.08, 0.055],
  [0.42, 0.29, 0.22],
  [0.12, 0.19, 0.3],
  [0.1, 0.14, 0.06],
  [0.22, 0.22, 0.4],
  [0.2, 0.47, 0.4],
  [0.47, 0.23, 0.06],
  [0.08, 0.11, 0.33],
  [0.34, 0.12, 0.13],
  [0.09, 0.06, 0.13],
  [0.35, 0.46, 0.09],
  [0.53, 0.37, 0.07],
  [0.05, 0.06, 0.24],
  [0.11, 0.27, 0.09],
  [0.26, 0.06, 0.05],
  [0.6, 0.56, 0.08],
  [0.32, 0.12, 0.28],
  [0.06, 0.22, 0.31],
  [0.88, 0.88, 0.87],
  [0.58, 0.58, 0.58],
  [0.36, 0.36, 0.36],
  [0.19, 0.19, 0.19],
  [0.09, 0.09, 0.09],
  [0.03, 0.03, 0.03],
];

/** Behind the crates, out of sight in shot Landing and where the sun comes past the rusty one: a chart of 24 patches and a grey card for shot Kettle. */
const chart: Thing[] = [
  box('chart', [-1.9, 1.2, 7.06], [0.4, 0.28, 0.01], 0, matt('chart board', [0.02, 0.02, 0.02])),
  ...patches.map((albedo, i) =>
    box(
      'chart',
      [-1.9 - ((i % 6) - 2.5) * 0.126, 1.2 + (1.5 - Math.floor(i / 6)) * 0.13, 7.072],
      [0.055, 0.055, 0.004],
      0,
      matt(`patch ${i + 1}`, albedo),
    ),
  ),
  box('grey card', [-1.55, 0.66, 7.06], [0.22, 0.18, 0.01], 0, matt('grey card', [0.18, 0.18, 0.18])),
];
/** The outer corners of the chart's field of patches, as Kettle's camera sees them: top left, top right, bottom right, bottom left. */
export const chartCorners: readonly Rgb[] = [
  [-1.53, 1.45, 7.076],
  [-2.27, 1.45, 7.076],
  [-2.27, 0.95, 7.076],
  [-1.53, 0.95, 7.076],
];

const clusters: readonly (readonly Thing[])[] = [
  [
    box('crate green', [-1.75, 0.45, 6.4], [0.6, 0.45, 0.45], 0.25, paint('green paint', [0.05, 0.24, 0.19])),
    box('crate rust', [-2.75, 0.4, 7.3], [0.42, 0.4, 0.42], -0.2, paint('rust paint', [0.32, 0.11, 0.06])),
    box('crate ochre', [-1.85, 1.28, 6.55], [0.42, 0.38, 0.36], 0.02, paint('ochre paint', [0.44, 0.27, 0.07])),
    ...lantern('lantern on crate', -1.7, 1.66, 6.5, 0.13),
  ],
  [
    ball('kettle', [1.25, 0.58, 5.0], 0.56, copper),
    post('kettle', [1.25, 1.08, 5.0], 0.2, 0.1, copper),
    ball('kettle', [1.25, 1.24, 5.0], 0.075, iron),
  ],
  spout,
  lantern('lantern near', -0.35, 0, 4.55, 0.2),
  [post('lamp post', [2.55, 0, 8.2], 0.06, 2.1, iron), ...lantern('lantern on post', 2.55, 2.1, 8.2, 0.2)],
  [9, 12.5].map((z, i) => post(`bollard ${i + 1}`, [3.6, 0, z], 0.3, 1.15, bollard)),
  [20, 27, 36, 48].map((z, i) => post(`pile ${i + 1}`, [4.2 + i * 0.9, waterLevel, z], 0.34, 1.9, bollard)),
  chart,
  [ball('buoy', [-5.6, -0.15, 24], 0.8, buoyPaint), post('buoy mast', [-5.6, 0.5, 24], 0.07, 1.3, iron)],
];

export const things: readonly Thing[] = clusters.flat();
/** How many things stand in each cluster, in the order of `things`: rays that miss a cluster miss all of it. */
export const clusterSizes: readonly number[] = clusters.map((c) => c.length);

/** Direction towards the sun, low in the haze to the left. */
export const sunDirection: Rgb = normalise([-0.62, 0.42, 0.36]);
export const sunLight: Rgb = [2.6, 2.05, 1.42];
/** Sine of the sun's half-angle as the haze widens it: soft shadows. */
export const sunSpread = 0.045;
/** Extinction of the haze per metre. */
export const hazeDensity = 0.028;

export function normalise([x, y, z]: Rgb): Rgb {
  const l = Math.hypot(x, y, z);
  return [x / l, y / l, z / l];
}

export interface Camera {
  readonly at: Rgb;
  readonly forward: Rgb;
  readonly right: Rgb;
  readonly up: Rgb;
  /** Of the picture one metre before the camera. */
  readonly width: number;
}

/** Points of view: where from and where to, each from the first frame to the last. */
const moves = {
  landing: { from: [-0.35, 1.42, -0.6], by: [0.7, 0.05, 0.45], target: [0.05, 0.72, 6], width: 0.98 },
  kettle: { from: [0.2, 1.25, 10], by: [-0.25, 0.05, -0.3], target: [-0.72, 0.8, 6], width: 1.3 },
  sea: { from: [0.2, 1.6, 12.5], by: [-0.25, 0.05, -0.3], target: [0.6, 1.25, 40], width: 0.92 },
  lastBoat: { from: [-2.4, 1.7, 0.8], by: [0.3, 0, 0.5], target: [1.7, 0.75, 9], width: 0.94 },
} as const;
export type View = keyof typeof moves;

/** The camera of a frame: a slow move over the shot. */
export function cameraAt(progress: number, view: View = 'landing'): Camera {
  const { from, by, target, width } = moves[view];
  const at = from.map((x, c) => x + by[c]! * progress) as unknown as Rgb;
  const forward = normalise([target[0] - at[0], target[1] - at[1], target[2] - at[2]]);
  const right = normalise([forward[2], 0, -forward[0]]);
  const up: Rgb = [
    forward[1] * right[2] - forward[2] * right[1],
    forward[2] * right[0] - forward[0] * right[2],
    forward[0] * right[1] - forward[1] * right[0],
  ];
  return { at, forward, right, up, width };
}
