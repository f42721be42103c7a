import { z } from 'zod';
import type { PassRole } from '../sequence/passes.ts';
import { valueAt, type Keyed } from './keyed.ts';

/** What of the picture a parameter can be taken from: numbers of the pass that stands beside it, the name of an ID there, the place itself, or the total's colour. */
export type PickedFrom = 'data' | 'ids' | 'place' | 'colour';

/** What a person sees of a parameter, whatever its type. */
interface Words {
  readonly pick?: PickedFrom | undefined;
  readonly title: string;
  /** One line on what it does, where the title does not say it. */
  readonly about?: string;
  /** A number of the same table: while it is 0, this parameter does nothing. */
  readonly onlyWith?: string;
}

/** One number; keyed where an operation may change over frames. */
export interface NumberParameter extends Words {
  readonly type: 'number';
  readonly unit?: string;
  /** What is taken at all, and what a slider offers. */
  readonly range: readonly [low: number, high: number];
  readonly soft: readonly [low: number, high: number];
  readonly step: number;
  readonly default: number;
  readonly scale: 'linear' | 'stops' | 'log' | 'angle';
}
/** Several numbers that belong together, each keyed by itself. */
export interface NumbersParameter extends Words {
  readonly type: 'numbers';
  readonly names: readonly string[];
  readonly range: readonly [low: number, high: number];
  readonly step: number;
  readonly default: readonly number[];
}
export interface ChoiceParameter<V extends string = string> extends Words {
  readonly type: 'choice';
  readonly options: readonly (readonly [value: V, title: string])[];
  readonly default: V;
}
/** A colour space, a display, a view or a look of the shot's colours, by name; null or empty where none is needed. */
export interface NameParameter extends Words {
  readonly type: 'space' | 'display' | 'view' | 'look' | 'source' | 'pass' | 'channel' | 'matte';
  readonly roles?: readonly PassRole[] | undefined;
  readonly default: string | null;
}
/** Names in a list, such as those of IDs. */
export interface NamesParameter extends Words {
  readonly type: 'names';
  readonly default: readonly string[];
}
/** Points of a curve, [in, out], rising in the first. */
export interface PointsParameter extends Words {
  readonly type: 'points';
  readonly default: readonly (readonly [number, number])[];
}
/** Places of the picture, in pixels of the full one, right and down. */
export interface CornersParameter extends Words {
  readonly type: 'corners';
  readonly default: readonly (readonly [number, number])[];
}
/** A LUT or CDL of the Library and the space that it expects. */
export interface LookFileParameter extends Words {
  readonly type: 'lookFile';
  readonly default: null;
}

export type Parameter =
  | NumberParameter
  | NumbersParameter
  | ChoiceParameter
  | NameParameter
  | NamesParameter
  | PointsParameter
  | CornersParameter
  | LookFileParameter;

export type ParameterTable = Readonly<Record<string, Parameter>>;

export interface LookFile {
  readonly id: string;
  readonly name: string;
  readonly space: string;
}

type ValueOf<P extends Parameter, Number> = P extends NumberParameter
  ? Number
  : P extends NumbersParameter
    ? readonly Number[]
    : P extends ChoiceParameter<infer V>
      ? V
      : P extends NamesParameter
        ? readonly string[]
        : P extends PointsParameter | CornersParameter
          ? readonly (readonly [number, number])[]
          : P extends LookFileParameter
            ? LookFile | null
            : P extends { readonly default: null }
              ? string | null
              : string;

/** Values of a table as a document holds them: numbers may be keyed, what is left out has its default. */
export type StoredValues<T extends ParameterTable> = {
  readonly [K in keyof T]?: ValueOf<T[K], Keyed> | undefined;
};
/** Values at one frame. */
export type Values<T extends ParameterTable> = { readonly [K in keyof T]: ValueOf<T[K], number> };

type NumberOptions = Partial<Pick<NumberParameter, 'unit' | 'soft' | 'step' | 'scale' | 'about' | 'pick'>>;

export function number(
  title: string,
  value: number,
  range: readonly [number, number],
  options: NumberOptions = {},
): NumberParameter {
  return { type: 'number', title, range, soft: range, step: 0.01, default: value, scale: 'linear', ...options };
}

/** Red, green, blue and a master that all three share, each of the same range and default. */
export function perChannel(
  value: number,
  range: readonly [number, number],
  options: NumberOptions = {},
): Record<'master' | 'red' | 'green' | 'blue', NumberParameter> {
  const one = (title: string) => number(title, value, range, options);
  return { master: one('All'), red: one('Red'), green: one('Green'), blue: one('Blue') };
}

export function numbers(
  title: string,
  names: readonly string[],
  value: readonly number[],
  range: readonly [number, number],
  step = 0.01,
  pick?: PickedFrom,
): NumbersParameter {
  return { type: 'numbers', title, names, range, step, default: value, ...(pick ? { pick } : {}) };
}

export function choice<const V extends string>(
  title: string,
  options: readonly (readonly [V, string])[],
  value: V,
): ChoiceParameter<V> {
  return { type: 'choice', title, options, default: value };
}

/** A name that must be given; of a pass, the roles of which one is taken where nothing else is said. */
export const name = (type: NameParameter['type'], title: string, roles: readonly PassRole[] = []) =>
  ({ type, title, default: '', ...(roles.length ? { roles } : {}) }) as const;
/** A name that may be left away. */
export const optionalName = (type: NameParameter['type'], title: string) => ({ type, title, default: null }) as const;

/** Parameters that do nothing while a number of their table is 0. */
export const onlyWith = <T extends ParameterTable>(other: string, table: T): T =>
  Object.fromEntries(Object.entries(table).map(([key, p]) => [key, { ...p, onlyWith: other }])) as unknown as T;

/** Whether a parameter does anything, by the stored values of its table. */
export function parameterActs(table: ParameterTable, stored: object, key: string): boolean {
  const other = table[key]?.onlyWith;
  if (other === undefined) return true;
  return ((stored as Record<string, unknown>)[other] ?? table[other]?.default) !== 0;
}

/** A number of a range, or keys with values of it. Frames and values are finite; keys are at least one. */
export function keyedSchema([low, high]: readonly [number, number]): z.ZodType<Keyed> {
  const value = z.number().min(low).max(high);
  const keys = z
    .array(z.tuple([z.number(), value]))
    .min(1)
    .max(10_000);
  return z.union([value, z.strictObject({ keys, smooth: z.boolean().optional() })]);
}

/** Schemas that were made: a plan is compiled with every move of the hand. */
const schemas = new WeakMap<Parameter, z.ZodType>();

/** The schema of one parameter. */
export function schemaOf(p: Parameter): z.ZodType {
  const known = schemas.get(p) ?? makeSchema(p);
  schemas.set(p, known);
  return known;
}

function makeSchema(p: Parameter): z.ZodType {
  switch (p.type) {
    case 'number':
      return keyedSchema(p.range);
    case 'numbers':
      return z.array(keyedSchema(p.range)).length(p.names.length);
    case 'choice':
      return z.enum(p.options.map(([v]) => v) as [string, ...string[]]);
    case 'names':
      return z.array(z.string().max(500)).max(10_000);
    case 'points':
    case 'corners':
      return z.array(z.tuple([z.number(), z.number()])).max(64);
    case 'lookFile':
      return z.strictObject({ id: z.string(), name: z.string(), space: z.string() }).nullable();
    default:
      return p.default === null ? z.string().max(500).nullable() : z.string().max(500);
  }
}

/** The schemas of a table's parameters, to be spread into an object's; each may be left out. */
export function shapeOf(table: ParameterTable): Record<string, z.ZodType> {
  return Object.fromEntries(Object.entries(table).map(([key, p]) => [key, schemaOf(p).optional()]));
}

/** A table's defaults. */
export function defaultsOf<T extends ParameterTable>(table: T): StoredValues<T> {
  return Object.fromEntries(Object.entries(table).map(([key, p]) => [key, p.default])) as StoredValues<T>;
}

/** Stored values at a frame: keyed numbers take their value, what is left out its default. */
export function valuesAt<T extends ParameterTable>(table: T, stored: object, frame: number): Values<T> {
  const given = stored as Record<string, unknown>;
  return Object.fromEntries(
    Object.entries(table).map(([key, p]) => {
      const value = given[key] ?? p.default;
      if (p.type === 'number') return [key, valueAt(value as Keyed, frame)];
      return [key, p.type === 'numbers' ? (value as Keyed[]).map((v) => valueAt(v, frame)) : value];
    }),
  ) as Values<T>;
}

/** Why stored values cannot be taken, in words; undefined when they can. */
export function whyNotValues(table: ParameterTable, stored: object): string | undefined {
  const given = stored as Record<string, unknown>;
  for (const [key, p] of Object.entries(table)) {
    if (given[key] === undefined) continue;
    const parsed = schemaOf(p).safeParse(given[key]);
    if (parsed.success) continue;
    if (p.type === 'number' || p.type === 'numbers')
      return `${p.title.toLowerCase()} goes from ${p.range[0]} to ${p.range[1]}`;
    return `${p.title.toLowerCase()} cannot be read`;
  }
  return undefined;
}
