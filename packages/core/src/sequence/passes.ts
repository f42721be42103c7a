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
  [/^(trans|refr)[a-z]*(dir|ind)|transm|refract|^refr[0-9]*$/, 'transmission'],
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
  [/motion|veloc|^vel[0-9]*$|vector|^m?vec[0-9]*$|^mv[0-9]*$|mblur|flow/, 'motion'],
  [/^uvw?s?(pass|map|coords?)?[0-9]*$|^st(map)?[0-9]*$|tex(ture)?co/, 'uv'],
  [/^a$|^alpha$|opacity/, 'alpha'],
  [/matte|mask|^multi/, 'matte'],
];

const plainWords = (name: string) => name.toLowerCase().replace(/[^a-z0-9]/g, '');

/**
 * What a pass is for by its own word. Of a name in parts, `view layer.DiffDir`, the last part says most; what stands before it may be a
 * view, a camera or the scene.
 */
export function knownRole(name: string): PassRole | undefined {
  const parts = name.split('.').filter((p) => p !== '');
  for (const words of [plainWords(parts.at(-1) ?? ''), plainWords(name)]) {
    const found = roleNames.find(([pattern]) => pattern.test(words));
    if (found) return found[1];
  }
  return undefined;
}

/** Guesses what a pass is for from its name, a light's beside the whole picture's word included. */
export const guessRole = (name: string): PassRole => knownRole(name) ?? guessLight(name);

/** Words for the whole picture, beside which a light's name makes a light group: `rgba_sun`, `Key.beauty`. */
const wholeWords = /^(beauty|rgba?|combined|colou?r|light|lights|lgt)$/;
/** Words that stand beside them and, alone, name no light. */
const noLights =
  /^(raw|noisy|denoised?|clean|half|left|right|final|comp|pass|layer|aov|all|sum|main|default|v?[0-9]+|[a-z])$/;

/** Light groups are named by the whole picture's word with a light's, before or after, in any case and with any separator. */
function guessLight(name: string): PassRole {
  const words = name
    .split(/[^A-Za-z0-9]+|(?<=[a-z])(?=[A-Z])/)
    .filter(Boolean)
    .map((w) => w.toLowerCase());
  const ends = [words.slice(1), words.slice(0, -1)] as const;
  const beside = wholeWords.test(words[0] ?? '') ? ends[0] : wholeWords.test(words.at(-1) ?? '') ? ends[1] : [];
  if (beside.every((w) => noLights.test(w))) return 'other';
  // `rgba_specular` is the specular; the rest names what it is.
  const role = roleNames.find(([pattern]) => pattern.test(beside.join('')))?.[1];
  return role ?? 'light-group';
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
  // Both eyes beside each other are eyes, also where no attribute says so.
  const eyes = [...passes.values()].map((p) => p.name).filter((n) => /^(left|right)$/i.test(n));
  if (new Set(eyes.map((n) => n.toLowerCase())).size === 2) eyes.forEach((n) => views.add(n));
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
