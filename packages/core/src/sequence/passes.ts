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
  [/^(beauty|combined|rgba?|main|master|final)$/, 'beauty'],
  [/crypto|^id(matte|s)?$|objectid|materialid|^ids?[0-9]*$/, 'id-matte'],
  [/lightgroup|^lg|^light[a-z0-9]+$|group(sun|sky|key|fill|rim)/, 'light-group'],
  [/diff.*(indirect|ind|gi|bounce)|indirect.*diff/, 'diffuse-indirect'],
  [/diff.*(direct|dir)|direct.*diff/, 'diffuse-direct'],
  [/(spec|refl|gloss).*(indirect|ind|gi)|indirect.*(spec|refl)/, 'specular-indirect'],
  [/(spec|refl|gloss).*(direct|dir)|direct.*(spec|refl)/, 'specular-direct'],
  [/albedo|diff(use)?(col|color|colour|filter)|basecolou?r/, 'albedo'],
  [/^diff(use)?$/, 'diffuse'],
  [/^(spec(ular)?|reflection|glossy)$/, 'specular'],
  [/transm|refract/, 'transmission'],
  [/sss|subsurface/, 'subsurface'],
  [/^coat|clearcoat/, 'coat'],
  [/sheen/, 'sheen'],
  [/^emi(t|ssion|ssive)?$|selfillum/, 'emission'],
  [/volum|atmosphere|^fog$|^haze$/, 'volume'],
  [/background|^env(ironment)?$|^sky$/, 'background'],
  [/shadow/, 'shadow'],
  [/^ao$|occlusion/, 'ambient-occlusion'],
  [/^z$|depth/, 'depth'],
  [/^p$|^pos|position|worldp/, 'position'],
  [/^n$|normal/, 'normal'],
  [/motion|velocity|vector$|^mv$/, 'motion'],
  [/^uv$|^st$/, 'uv'],
  [/^a$|^alpha$/, 'alpha'],
  [/matte|mask/, 'matte'],
];

/** Guesses what a pass is for from its name. */
export function guessRole(name: string): PassRole {
  const words = name.toLowerCase().replace(/[^a-z0-9]/g, '');
  return roleNames.find(([pattern]) => pattern.test(words))?.[1] ?? 'other';
}

const colourOrder = ['R', 'G', 'B', 'A', 'X', 'Y', 'Z', 'U', 'V'];

/** Groups the channels of all parts into passes, by what stands before the last dot, else by the part's name. */
export function findPasses(parts: readonly ExrPart[]): Pass[] {
  const passes = new Map<string, { name: string; part: number; channels: PassChannel[] }>();
  for (const part of parts) {
    for (const { name, type } of part.channels) {
      const dot = name.lastIndexOf('.');
      const component = name.slice(dot + 1);
      const layer = dot >= 0 ? name.slice(0, dot) : part.name || (isColour(component) ? 'beauty' : component);
      const key = `${part.index}/${layer}`;
      const pass = passes.get(key) ?? { name: layer, part: part.index, channels: [] };
      pass.channels.push({ component, name, type });
      passes.set(key, pass);
    }
  }
  return [...passes.values()].map((p) => ({ ...p, role: guessRole(p.name), channels: p.channels.sort(byComponent) }));
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
