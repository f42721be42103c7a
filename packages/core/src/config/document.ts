import type { Transform } from '../transform/transform.ts';
import type { ColourFileError, Place } from './place.ts';

/** A transform as it was read, or why it cannot be used. A broken one does not spoil the others. */
export type Readable = Transform | ColourFileError;

export interface ConfigSpace {
  readonly name: string;
  readonly aliases: readonly string[];
  readonly family: string;
  readonly equalityGroup: string;
  readonly encoding: string;
  readonly description: string;
  readonly categories: readonly string[];
  readonly isData: boolean;
  /** Scene- or display-referred. */
  readonly reference: 'scene' | 'display';
  readonly toReference: Readable | undefined;
  readonly fromReference: Readable | undefined;
  readonly place: Place;
}

export interface ConfigViewTransform {
  readonly name: string;
  readonly reference: 'scene' | 'display';
  readonly toReference: Readable | undefined;
  readonly fromReference: Readable | undefined;
  readonly place: Place;
}

export interface ConfigView {
  readonly name: string;
  /** The space it ends in; `<USE_DISPLAY_NAME>` stands for the space named like the display. */
  readonly space: string;
  readonly viewTransform: string | undefined;
  readonly looks: string;
  /** A viewing rule's name. */
  readonly rule: string | undefined;
  readonly description: string;
  readonly place: Place;
}

export interface ConfigDisplay {
  readonly name: string;
  readonly views: readonly ConfigView[];
}

export interface ConfigLook {
  readonly name: string;
  readonly processSpace: string;
  readonly description: string;
  readonly transform: Readable | undefined;
  readonly inverseTransform: Readable | undefined;
  readonly place: Place;
}

export interface ConfigNamedTransform {
  readonly name: string;
  readonly aliases: readonly string[];
  readonly family: string;
  readonly encoding: string;
  readonly description: string;
  readonly transform: Readable | undefined;
  readonly inverseTransform: Readable | undefined;
  readonly place: Place;
}

export interface FileRule {
  readonly name: string;
  readonly space: string | undefined;
  readonly pattern: string | undefined;
  readonly extension: string | undefined;
  readonly regex: string | undefined;
  readonly place: Place;
}

export interface ViewingRule {
  readonly name: string;
  readonly spaces: readonly string[];
  readonly encodings: readonly string[];
}

/** A config as written, with what could not be read of it. */
export interface ConfigDocument {
  readonly file: string;
  readonly majorVersion: number;
  readonly minorVersion: number;
  readonly name: string;
  readonly description: string;
  /** Declared variables and their defaults; undefined when the config declares none at all. */
  readonly environment: ReadonlyMap<string, string> | undefined;
  readonly searchPaths: readonly string[];
  readonly roles: ReadonlyMap<string, string>;
  readonly spaces: readonly ConfigSpace[];
  readonly displays: readonly ConfigDisplay[];
  readonly activeDisplays: readonly string[];
  readonly activeViews: readonly string[];
  readonly inactiveSpaces: readonly string[];
  readonly looks: readonly ConfigLook[];
  readonly viewTransforms: readonly ConfigViewTransform[];
  readonly defaultViewTransform: string | undefined;
  readonly namedTransforms: readonly ConfigNamedTransform[];
  readonly fileRules: readonly FileRule[] | undefined;
  readonly viewingRules: readonly ViewingRule[];
  /** Weights of luminance for saturation tools; kept for those who ask. */
  readonly luma: readonly number[] | undefined;
  readonly problems: readonly ColourFileError[];
}
