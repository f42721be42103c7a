import {
  openBundledConfig,
  openBundledLut,
  selfContainedSteps,
  ShotColour,
  type Bundle,
  type ColourStep,
} from '@june-haze/core';
import type { LibraryItem } from '@june-haze/contract';
import type { Axis } from './curve.ts';

/** One transform of an item: a LUT as it is, or a way through a config. */
export type Choice =
  | { readonly kind: 'lut' }
  | {
      readonly kind: 'view';
      readonly from: string;
      readonly display: string;
      readonly view: string;
      readonly look: string;
    }
  | { readonly kind: 'space'; readonly from: string; readonly to: string };

/** An item opened for looking at. */
export interface Opened {
  readonly item: LibraryItem;
  /** Configs only. */
  readonly colour: ShotColour | undefined;
  readonly lut: ColourStep[] | undefined;
}

/** Opens an item from its files. Throws what is wrong in a sentence. */
export function openItem(item: LibraryItem, bundle: Bundle): Opened {
  if (item.kind === 'config')
    return { item, colour: new ShotColour(openBundledConfig(bundle, item.name)), lut: undefined };
  return { item, colour: undefined, lut: selfContainedSteps(openBundledLut(bundle, item.name)) };
}

/** What is shown first: the first view from the first linear space, or the LUT. */
export function firstChoice({ colour }: Opened): Choice {
  if (!colour) return { kind: 'lut' };
  const display = colour.displays()[0];
  const view = display?.views[0];
  const linear =
    colour.config?.findSpace('scene_linear')?.name ??
    colour.spaces().find((s) => s.linear)?.name ??
    colour.spaces()[0]?.name ??
    '';
  if (display && view !== undefined) return { kind: 'view', from: linear, display: display.name, view, look: 'own' };
  return { kind: 'space', from: linear, to: linear };
}

/** The steps of a choice, and what its axis counts. */
export function stepsOfChoice({ colour, lut }: Opened, choice: Choice): { steps: ColourStep[]; axis: Axis } {
  if (choice.kind === 'lut' || !colour?.config) return { steps: lut ?? [], axis: 'codes' };
  const from = colour.config.findSpace(choice.from);
  const axis = from && colour.config.isLinear(from) ? 'stops' : 'codes';
  if (choice.kind === 'space') return { steps: colour.conversion(choice.from, choice.to), axis };
  const looks = choice.look === 'own' ? undefined : choice.look === 'none' ? '' : choice.look;
  const steps = colour.config.view(choice.from, { display: choice.display, view: choice.view, looks });
  // A display shows 0 … 1 and nothing beyond.
  return { steps: [...steps, { kind: 'clamp', low: 0, high: 1 }], axis };
}

/** A choice in words. */
export function nameOfChoice({ item }: Opened, choice: Choice): string {
  if (choice.kind === 'lut') return item.name;
  if (choice.kind === 'space') return `${choice.from} to ${choice.to}`;
  const look = choice.look === 'own' ? '' : `, ${choice.look === 'none' ? 'no look' : choice.look}`;
  return `${choice.from} through ${choice.display} / ${choice.view}${look}`;
}
