import type { ParameterTable } from '@june-haze/core';
import type { Shot, Source } from '@june-haze/contract';

/**
 * What a matte or finish begins with in a shot, where its defaults say nothing: the render's pass of the role that it reads, and places in the
 * middle of the picture.
 */
export function startingValues(table: ParameterTable, shot: Shot): Record<string, unknown> {
  const plates = shot.sources.filter((s) => s.reading.use === 'plate');
  const passes = Object.entries(table).filter(([, p]) => p.type === 'pass');
  const roles = passes.flatMap(([, p]) => ('roles' in p ? (p.roles ?? []) : []));
  const source = plates.find((s) => passOf(s, roles) !== undefined) ?? plates[0];
  return Object.fromEntries(
    Object.entries(table).flatMap(([key, p]): [string, unknown][] => {
      if (p.type === 'source' && source) return [[key, source.id]];
      if (p.type === 'pass' && source) return [[key, passOf(source, roles) ?? '']];
      const size = key === 'radius' || key === 'size';
      if (p.type !== 'numbers' || p.names.join() !== 'X,Y' || !(size || p.pick === 'place')) return [];
      return [[key, size ? [shot.width / 6, shot.height / 6].map(Math.round) : placeOf(key, shot)]];
    }),
  );
}

/** A gradient runs down the picture; all else lies in its middle. */
function placeOf(key: string, { width, height }: Shot): number[] {
  const down = key === 'start' ? 0.25 : key === 'stop' ? 0.75 : 0.5;
  return [width / 2, height * down].map(Math.round);
}

/** The pass of a source that has one of some roles; of ID passes the name that their ranks share. */
function passOf({ passes }: Source, roles: readonly string[]): string | undefined {
  const found = passes.find((p) => roles.includes(p.role));
  return found?.role === 'id-matte' ? found.name.replace(/\d+$/, '') : found?.name;
}
