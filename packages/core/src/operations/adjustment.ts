import type { ColourStep } from '../colour/steps.ts';
import type { Vector3 } from '../colour/matrix.ts';
import type { ShotColour } from '../config/shotColour.ts';
import type { ParameterTable, StoredValues, Values } from './parameters.ts';

/** What an adjustment may ask of its surroundings while it is compiled. */
export interface AdjustmentPlace {
  /** The space that its numbers are in: the working space, or the one that a person chose. */
  readonly space: string;
  readonly colour: ShotColour;
  /** Weights of luminance of that space's primaries; of the working space's where it is not linear. */
  readonly luminance: Vector3;
}

/** An adjustment: everything that anybody needs to know of it. */
export interface AdjustmentDefinition<K extends string = string, T extends ParameterTable = ParameterTable> {
  readonly kind: K;
  readonly title: string;
  /** One line on what it does to pixels, with its formula. */
  readonly does: string;
  /** The published source of the formula. */
  readonly published: string;
  /** Further words that find it. */
  readonly search?: readonly string[];
  readonly parameters: T;
  /**
   * *any*: a pure multiplication, the same on premultiplied colour. *straight*: colour is divided by alpha, changed, and multiplied again;
   * where alpha is 0 it stays as it was.
   */
  readonly alpha: 'any' | 'straight';
  /** Whether a person may choose the space that it works in; some name their own spaces. */
  readonly choosesSpace: boolean;
  /** The space that it works in when none is chosen; the working space where left out. */
  readonly usualSpace?: string;
  /** It does something with its defaults already: there are no values at which it leaves every number alone. */
  readonly actsAtOnce?: true;
  /** Steps on numbers of its space. Throws a sentence for values that do not go together. */
  compile(values: Values<T>, place: AdjustmentPlace): readonly ColourStep[];
}

/** Ties the types of a definition together. */
export function adjustment<const K extends string, const T extends ParameterTable>(
  definition: AdjustmentDefinition<K, T>,
): AdjustmentDefinition<K, T> {
  return definition;
}

/** An adjustment as a document holds it. */
export type StoredAdjustment<D> =
  D extends AdjustmentDefinition<infer K, infer T>
    ? {
        readonly kind: K;
        readonly enabled: boolean;
        /** The space that it works in; left out or null, the working space. */
        readonly space?: string | null | undefined;
        /** A matte of the document, by name: the adjustment acts where it is white. */
        readonly matte?: string | null | undefined;
      } & StoredValues<T>
    : never;
