import type { Size, Window } from '@june-haze/core';

/** Where a picture lies under the eye: fitted into its pane, or at a scale with a point of it in the pane's middle. */
export type View =
  | 'fit'
  | {
      /** Screen pixels (of CSS) per picture pixel, down; across it is times the pixel aspect. */
      readonly scale: number;
      /** The point of the picture that is in the middle, in its pixels. */
      readonly centre: readonly [x: number, y: number];
    };

/** A picture in a pane. */
export interface Lying {
  readonly picture: Size;
  /** How wide a pixel of the picture is beside its height. */
  readonly aspect: number;
  readonly pane: Size;
}

/** As it lies: scale, and where the picture's upper left corner is in the pane. */
export interface Laid {
  readonly scale: number;
  readonly scaleX: number;
  readonly left: number;
  readonly top: number;
}

const margin = 16;
export const [leastScale, mostScale] = [0.05, 64];

/** The scale at which all of a picture is seen. */
export function fitScale({ picture, aspect, pane }: Lying): number {
  const room = (side: number) => Math.max(1, side - 2 * margin);
  return pane.width ? Math.min(room(pane.width) / (picture.width * aspect), room(pane.height) / picture.height) : 1;
}

/** Lays a picture; at whole scales its corner lies on a whole pixel of the screen, so that pixels are exact. */
export function lay(view: View, lying: Lying, devicePixels = 1): Laid {
  const { picture, aspect, pane } = lying;
  const scale = view === 'fit' ? fitScale(lying) : view.scale;
  const [x, y] = view === 'fit' ? [picture.width / 2, picture.height / 2] : view.centre;
  const scaleX = scale * aspect;
  const whole = Number.isInteger(scale * devicePixels) && Number.isInteger(scaleX * devicePixels);
  const on = (v: number) => (whole ? Math.round(v * devicePixels) / devicePixels : v);
  return { scale, scaleX, left: on(pane.width / 2 - x * scaleX), top: on(pane.height / 2 - y * scale) };
}

/** The point of the picture under a point of the pane, in its pixels. */
export const toPicture = ({ scale, scaleX, left, top }: Laid, x: number, y: number): readonly [number, number] => [
  (x - left) / scaleX,
  (y - top) / scale,
];

/** The point of the pane that a point of the picture is at. */
export const toPane = ({ scale, scaleX, left, top }: Laid, x: number, y: number): readonly [number, number] => [
  left + x * scaleX,
  top + y * scale,
];

/** Zooms about a point of the pane: what is under it stays there. */
export function zoomAbout(view: View, lying: Lying, scale: number, x: number, y: number): View {
  const [px, py] = toPicture(lay(view, lying), x, y);
  const limited = Math.min(mostScale, Math.max(leastScale, scale));
  const { pane, aspect } = lying;
  return {
    scale: limited,
    centre: [px - (x - pane.width / 2) / (limited * aspect), py - (y - pane.height / 2) / limited],
  };
}

/** Moves the picture by so many pixels of the screen. */
export function panned(view: View, lying: Lying, right: number, down: number): View {
  const { scale, scaleX } = lay(view, lying);
  const [x, y] = centreOf(view, lying);
  return { scale, centre: [x - right / scaleX, y - down / scale] };
}

export const centreOf = (view: View, { picture }: Lying): readonly [number, number] =>
  view === 'fit' ? [picture.width / 2, picture.height / 2] : view.centre;

/** A place in any picture: a point as shares of its sides, and a scale as it is in a picture of a width. */
export interface Place {
  readonly x: number;
  readonly y: number;
  readonly scale: number;
  readonly width: number;
}

/** The place that is under the eye. */
export function placeOf(view: View, lying: Lying): Place {
  const { picture } = lying;
  const [x, y] = centreOf(view, lying);
  return { x: x / picture.width, y: y / picture.height, scale: lay(view, lying).scale, width: picture.width };
}

/** A place seen in a picture, of whatever size: the same part of it is in the middle, as large on the screen. */
export const viewOf = ({ x, y, scale, width }: Place, { width: across, height }: Size): View => ({
  scale: (scale * width) / across,
  centre: [x * across, y * height],
});

/** The part of the picture that is seen, in whole pixels. */
export function seenOf(laid: Laid, { picture, pane }: Lying): Window {
  const [left, top] = toPicture(laid, 0, 0);
  const [right, bottom] = toPicture(laid, pane.width, pane.height);
  const within = (v: number, side: number) => Math.min(side, Math.max(0, v));
  const x = Math.floor(within(left, picture.width));
  const y = Math.floor(within(top, picture.height));
  return {
    x,
    y,
    width: Math.ceil(within(right, picture.width)) - x,
    height: Math.ceil(within(bottom, picture.height)) - y,
  };
}

/** A region between two points of the picture, in whole pixels of it; undefined for one that is all outside. */
export function regionBetween(
  a: readonly [number, number],
  b: readonly [number, number],
  { width, height }: Size,
): Window | undefined {
  const side = (p: number, q: number, most: number): [number, number] => [
    Math.max(0, Math.floor(Math.min(p, q))),
    Math.min(most, Math.ceil(Math.max(p, q))),
  ];
  const [x, right] = side(a[0], b[0], width);
  const [y, bottom] = side(a[1], b[1], height);
  return right > x && bottom > y ? { x, y, width: right - x, height: bottom - y } : undefined;
}
