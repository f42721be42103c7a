import type { ColourStep } from '../colour/steps.ts';
import { ColourFileError, type Place } from '../config/place.ts';
import type { Direction, Interpolation, Table3D } from './transform.ts';

/** Largest cube taken: 129³ points are 26 MB as floats; files that claim more are faults. */
export const largestCube = 129;

/** Steps of a cube: trilinear unless tetrahedra are asked for ("tetrahedral", "best"); the reference treats nearest and cubic as linear. */
export function table3dSteps(
  table: Table3D,
  interpolation: Interpolation | undefined,
  way: Direction,
  place: Place | undefined,
): ColourStep[] {
  if (table.size < 2 || table.size > largestCube)
    throw new ColourFileError(`a cube of ${table.size} points a side cannot be used; 2 to ${largestCube} can.`, place);
  const tetrahedra = interpolation === 'tetrahedral' || interpolation === 'best';
  if (way === 'forward')
    return [
      { kind: 'cube', size: table.size, values: table.values, interpolation: tetrahedra ? 'tetrahedral' : 'linear' },
    ];
  return [{ kind: 'plain', recipe: { what: 'inverseCube', size: table.size, values: table.values } }];
}
