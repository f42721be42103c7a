import { offeredChannels } from '../exr/lumaChroma.ts';
import type { ExrPart, SampleType } from '../exr/types.ts';

/** What a pass is for. The words of the trade; the list is that of docs/architecture.md. */
export const passRoles = [
  'beauty',
  'alpha',
  'diffuse-direct',
  'diffuse-indirect',
  'diffuse',
  'specular-direct',
  'specular-indirect',
  'specular',
  'transmission',
  'subsurface',
  'coat',
  'sheen',
  'emission',
  'volume',
  'background',
  'light-group',
  'albedo',
  'shadow',
  'ambient-occlusion',
  'depth',
  'position',
  'normal',
  'motion',
  'uv',
  'id-matte',
  'matte',
  'other',
] as const;
export type PassRole = (typeof passRoles)[number];

/** Passes that hold no colour: never converted, never summed. */
export const dataRoles: ReadonlySet<PassRole> = new Set([
  'depth',
  'position',
  'normal',
  'motion',
  'uv',
  'id-matte',
  'matte',
]);

/** Roles whose sum is the beauty, as renderers split light by what it did last. */
export const componentRoles: ReadonlySet<PassRole> = new Set([
  'diffuse-direct',
  'diffuse-indirect',
  'diffuse',
  'specular-direct',
  'specular-indirect',
  'specular',
  'transmission',
  'subsurface',
  'coat',
  'sheen',
  'emission',
  'volume',
  'background',
]);

export interface PassChannel {
  /** The last part of the channel's name: R, G, B, A, X, Z … */
  readonly component: string;
  readonly name: string;
  readonly type: SampleType;
}

export interface Pass {
  readonly name: string;
  readonly role: PassRole;
  readonly part: number;
  readonly channels: readonly PassChannel[];
}

/** Names to roles; the first that fits wins. Common practice, no source. */
const roleNames: readonly (readonly [RegExp, PassRole])[] = [
  [/^(beauty|combined|rgba?|colou?r|main|master|final|image|default|rgbacolou?r)$/, 'beauty'],
  [
    /crypto|^id(matte|s)?$|(object|material|instance|asset|mesh|node)id|^ids?[0-9]*$|^index(ob|ma)$|^idmask/,
    'id-matte',
  ],
  [
    /lightgroup|^lg|lightselect|lightmix|^light[a-z0-9]+$|group(sun|sky|key|fill|rim)|^(key|fill|rim|sun|sky)light$/,
    'light-group',
  ],
  [
    /^(diff|gloss|trans|spec|sss|subsurface|volume?)(use|y|mission)?(col|color|colour|filter|raw)|albedo|basecolou?r|diffusefilter/,
    'albedo',
  ],
  [/^(trans|refr)[a-z]*(dir|ind)|transm|refract/, 'transmission'],
  [/sss|subsurface|^scatter/, 'subsurface'],
  [/coat/, 'coat'],
  [/sheen|^fuzz/, 'sheen'],
  [/volum|atmosphere|^fog$|^haze$/, 'volume'],
  [/diff.*(indirect|ind|gi|bounce)|indirect.*diff|^(gi|indirect)$|globalillum/, 'diffuse-indirect'],
  [/diff.*(direct|dir|lighting)|direct.*diff/, 'diffuse-direct'],
  [/(spec|refl|gloss).*(indirect|ind|gi)|indirect.*(spec|refl)/, 'specular-indirect'],
  [/(spec|refl|gloss).*(direct|dir|lighting)|direct.*(spec|refl)/, 'specular-direct'],
  [/^diff(use)?[0-9]*$/, 'diffuse'],
  [/^(spec(ular)?|refl(ection)?|glossy?)[0-9]*$/, 'specular'],
  [/^emi(t|ssion|ssive)?$|selfillum|incandescence/, 'emission'],
  [/background|^env(ironment)?$|^sky$|^backdrop$/, 'background'],
  [/shadow|^shad$/, 'shadow'],
  [/^ao$|occlusion/, 'ambient-occlusion'],
  [/^z[0-9]*$|depth|^mist$|distance/, 'depth'],
  [/^p(os|world|ref|ws)?$|position|worldp|pworld|pointpos/, 'position'],
  [/^n(world|cam|camera)?$|normal|^bump/, 'normal'],
  [/motion|velocity|vector|^mv[0-9]*$|flow/, 'motion'],
  [/^uv[0-9]*$|^st[0-9]*$|texcoord/, 'uv'],
  [/^a$|^alpha$|opacity/, 'alpha'],
  [/matte|mask|^multi/, 'matte'],
];

const plainWords = (name: string) => name.toLowerCase().replace(/[^a-z0-9]/g, '');

/**
 * Guesses what a pass is for from its name. Of a name in parts, `view layer.DiffDir`, the last part says most; what stands before
 * it may be a view, a camera or the scene.
 */
export function guessRole(name: string): PassRole {
  const parts = name.split('.').filter((p) => p !== '');
  for (const words of [plainWords(parts.at(-1) ?? ''), plainWords(name)]) {
    const found = roleNames.find(([pattern]) => pattern.test(words));
    if (found) return found[1];
  }
  return 'other';
}

const colourOrder = ['R', 'G', 'B', 'A', 'X', 'Y', 'Z', 'U', 'V'];

/** Groups the channels of all parts into passes, by what stands before the last dot, else by the part's name. */
export function findPasses(parts: readonly ExrPart[]): Pass[] {
  const passes = new Map<string, { name: string; part: number; channels: PassChannel[] }>();
  for (const part of parts) {
    for (const { name, type } of offeredChannels(part)) {
      const dot = name.lastIndexOf('.');
      const component = name.slice(dot + 1);
      const layer = dot >= 0 ? name.slice(0, dot) : part.name || (isColour(component) ? 'beauty' : component);
      const key = `${part.index}/${layer}`;
      const pass = passes.get(key) ?? { name: layer, part: part.index, channels: [] };
      pass.channels.push({ component, name, type });
      passes.set(key, pass);
    }
  }
  const views = new Set(parts.flatMap(viewsOf));
  return [...passes.values()].map((p) => ({
    ...p,
    role: views.has(p.name) ? 'beauty' : guessRole(p.name),
    channels: p.channels.sort(byComponent),
  }));
}

/** Names of stereo views: a layer that is named like one is that eye's beauty (OpenEXR, "multiView" and "view" attributes). */
function viewsOf(part: ExrPart): string[] {
  const all = part.attributes.get('multiView')?.value;
  const own = part.attributes.get('view')?.value;
  return [...(Array.isArray(all) ? all.map(String) : []), ...(typeof own === 'string' ? [own] : [])];
}

const isColour = (component: string) => /^[RGBA]$/i.test(component);

function byComponent(a: PassChannel, b: PassChannel): number {
  const rank = (c: PassChannel) => (colourOrder.indexOf(c.component.toUpperCase()) + 100) % 100;
  return rank(a) - rank(b);
}

/** The channels that stand for red, green and blue of a pass (one channel serves for all three), and its alpha. */
export function pictureChannels(pass: Pass): { colour: [string, string, string]; alpha?: string } {
  const of = (...names: string[]) => pass.channels.find((c) => names.includes(c.component.toUpperCase()))?.name;
  const alpha = pass.role === 'alpha' ? undefined : of('A');
  const first = pass.channels[0]!.name;
  const colour: [string, string, string] = [
    of('R', 'X', 'U') ?? first,
    of('G', 'Y', 'V') ?? first,
    of('B', 'Z') ?? first,
  ];
  if (pass.channels.filter((c) => c.name !== alpha).length === 1)
    colour.fill(pass.channels.find((c) => c.name !== alpha)!.name);
  return { colour, alpha };
}
