import type { AdjustmentDefinition, StoredAdjustment } from './adjustment.ts';
import { cdl } from './adjustments/cdl.ts';
import { clamp } from './adjustments/clamp.ts';
import { contrast } from './adjustments/contrast.ts';
import { conversion } from './adjustments/conversion.ts';
import { curves } from './adjustments/curves.ts';
import { exposure } from './adjustments/exposure.ts';
import { gain } from './adjustments/gain.ts';
import { gamma } from './adjustments/gamma.ts';
import { hue } from './adjustments/hue.ts';
import { levels } from './adjustments/levels.ts';
import { lift } from './adjustments/lift.ts';
import { look } from './adjustments/look.ts';
import { lut } from './adjustments/lut.ts';
import { matrix } from './adjustments/matrix.ts';
import { offset } from './adjustments/offset.ts';
import { saturation } from './adjustments/saturation.ts';
import { softClip } from './adjustments/softClip.ts';
import { tint } from './adjustments/tint.ts';
import { view } from './adjustments/view.ts';
import { whiteBalance } from './adjustments/whiteBalance.ts';
import type { BlendDefinition } from './blend.ts';
import { divide } from './blends/divide.ts';
import { max } from './blends/max.ts';
import { min } from './blends/min.ts';
import { minus } from './blends/minus.ts';
import { multiply } from './blends/multiply.ts';
import { over } from './blends/over.ts';
import { plus } from './blends/plus.ts';
import { replace } from './blends/replace.ts';
import { screen } from './blends/screen.ts';
import { under } from './blends/under.ts';
import type { FinishDefinition, StoredFinish } from './finish.ts';
import { blur } from './finishes/blur.ts';
import { defocus } from './finishes/defocus.ts';
import { fringe } from './finishes/fringe.ts';
import { glare } from './finishes/glare.ts';
import { glow } from './finishes/glow.ts';
import { grade } from './finishes/grade.ts';
import { grain } from './finishes/grain.ts';
import { haze } from './finishes/haze.ts';
import { median } from './finishes/median.ts';
import { sharpen } from './finishes/sharpen.ts';
import { vignette } from './finishes/vignette.ts';
import type { MatteDefinition, StoredMatte } from './matte.ts';
import { box } from './mattes/box.ts';
import { brightness } from './mattes/brightness.ts';
import { channel } from './mattes/channel.ts';
import { combine } from './mattes/combine.ts';
import { depth } from './mattes/depth.ts';
import { edge } from './mattes/edge.ts';
import { ellipse } from './mattes/ellipse.ts';
import { facing } from './mattes/facing.ts';
import { gradient } from './mattes/gradient.ts';
import { hueRange } from './mattes/hue.ts';
import { ids } from './mattes/ids.ts';
import { invert } from './mattes/invert.ts';
import { polygon } from './mattes/polygon.ts';
import { position } from './mattes/position.ts';

// Everything that a ledger can do, in the order of its menus. To add something: one file, its test, one line here.

export const blends = [plus, minus, multiply, divide, over, under, screen, max, min, replace] as const;

export const adjustments = [
  exposure,
  gain,
  offset,
  gamma,
  lift,
  tint,
  saturation,
  hue,
  contrast,
  whiteBalance,
  levels,
  curves,
  cdl,
  matrix,
  lut,
  look,
  conversion,
  view,
  softClip,
  clamp,
] as const;

export const mattes = [
  ids,
  depth,
  position,
  brightness,
  hueRange,
  facing,
  channel,
  ellipse,
  box,
  polygon,
  gradient,
  edge,
  combine,
  invert,
] as const;

export const finishes = [grade, haze, defocus, blur, sharpen, median, glow, glare, vignette, fringe, grain] as const;

export type Operation = (typeof blends)[number]['kind'];
export type Adjustment = StoredAdjustment<(typeof adjustments)[number]>;
export type Matte = StoredMatte<(typeof mattes)[number]>;
export type Finish = StoredFinish<(typeof finishes)[number]>;

const byKind = <D extends { readonly kind: string }>(list: readonly unknown[]) =>
  new Map((list as readonly D[]).map((d) => [d.kind, d]));

const known = {
  blend: byKind<BlendDefinition>(blends),
  adjustment: byKind<AdjustmentDefinition>(adjustments),
  matte: byKind<MatteDefinition>(mattes),
  finish: byKind<FinishDefinition>(finishes),
};

/** A definition by its kind; undefined for one that this version does not know. */
export const findBlend = (kind: string) => known.blend.get(kind);
export const findAdjustment = (kind: string) => known.adjustment.get(kind);
export const findMatte = (kind: string) => known.matte.get(kind);
export const findFinish = (kind: string) => known.finish.get(kind);
