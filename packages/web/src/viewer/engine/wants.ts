import { isPointwise, sideAtLevel, type Plan, type Size, type Window } from '@june-haze/core';
import type { PlanesWant } from '@june-haze/contract';
import type { PictureRequest } from './messages.ts';

/** One channel of a source at a frame and level, under a key that names what its pixels hang on. */
export interface WantedPlane {
  readonly key: string;
  readonly channel: string;
  /** What the server is asked for it, all but the channel. */
  readonly of: Omit<PlanesWant, 'channels'>;
}

export interface WantedInput {
  readonly colour: readonly [WantedPlane, WantedPlane, WantedPlane];
  readonly alpha: WantedPlane | undefined;
  /** The size that the source's picture is taken to have, full, and at the level. */
  readonly size: Size;
  readonly levelSize: Size;
}

/** The part of a picture that is made, in pixels of its level; undefined for all of it. */
export const windowOf = ({ window }: PictureRequest, plan: Plan): Window | undefined =>
  window && isPointwise(plan) ? window : undefined;

/** The planes that a picture is made of. Alpha is made smaller as its colour is: both averaged, or, of data, neither. */
export function wantedInputs(request: PictureRequest, plan: Plan): WantedInput[] {
  const window = windowOf(request, plan);
  return plan.inputs.map((input, i) => {
    const { sourceId, part, data = false } = input;
    const frame = request.sourceFrames[sourceId] ?? request.frame;
    const plane = (ofPart: number, channel: string): WantedPlane => {
      const of = {
        source: sourceId,
        frame,
        stamp: request.stamps[sourceId] ?? '',
        part: ofPart,
        level: request.level,
        data,
        ...(window ? { window } : {}),
      };
      return { key: JSON.stringify([of, channel]), channel, of };
    };
    const size = sizeOf(plan, i, request.size);
    return {
      colour: input.colour.map((c) => plane(part, c)) as unknown as WantedInput['colour'],
      alpha: input.alpha && plane(input.alpha.part, input.alpha.channel),
      size,
      levelSize: { width: sideAtLevel(size.width, request.level), height: sideAtLevel(size.height, request.level) },
    };
  });
}

function sizeOf(plan: Plan, input: number, shot: Size): Size {
  for (const node of plan.nodes) if (node.kind === 'place' && node.input === input) return node.size;
  return shot;
}

/** Planes of the same file and kind are asked for together. */
export function groupWants(
  planes: Iterable<WantedPlane>,
): { readonly want: PlanesWant; readonly keys: readonly string[] }[] {
  const groups = new Map<string, { want: PlanesWant & { channels: string[] }; keys: string[] }>();
  for (const { key, channel, of } of planes) {
    const name = JSON.stringify(of);
    const group = groups.get(name) ?? { want: { ...of, channels: [] }, keys: [] };
    groups.set(name, group);
    group.want.channels.push(channel);
    group.keys.push(key);
  }
  return [...groups.values()];
}
