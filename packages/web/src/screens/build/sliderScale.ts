import type { NumberParameter } from '@june-haze/core';

export type SliderScale = NumberParameter['scale'];

/** The value at a place 0 … 1 of a slider whose steps grow with the value: by ratios, or by squares where it begins at 0 or below. */
export function valueOf(place: number, min: number, max: number): number {
  return min > 0 ? min * (max / min) ** place : min + (max - min) * place * place;
}

/** The way back; values beyond the ends lie at them. */
export function placeOf(value: number, min: number, max: number): number {
  const held = Math.min(max, Math.max(min, value));
  return min > 0 ? Math.log(held / min) / Math.log(max / min) : Math.sqrt((held - min) / (max - min));
}

/** The nearest whole number of steps, without the rest that a float leaves. */
export const rounded = (value: number, step: number): number => Number((Math.round(value / step) * step).toFixed(6));
