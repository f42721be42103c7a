import { dataRoles, type Inspection } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useCallback, useMemo } from 'react';
import type { SightChoice } from '../sights.ts';
import type { ViewerState } from '../viewerState.ts';

/** How a pass of data is looked at first, by its role. */
const byRole: Readonly<Record<string, Inspection>> = {
  depth: { kind: 'range', near: 0, far: 100 },
  position: { kind: 'vectors', near: -10, far: 10 },
  normal: { kind: 'vectors', near: -1, far: 1 },
  motion: { kind: 'vectors', near: -16, far: 16 },
  uv: { kind: 'vectors', near: 0, far: 1 },
  'id-matte': { kind: 'ids' },
  matte: { kind: 'range', near: 0, far: 1 },
};

/** Where numbers are no light, the viewing says nothing about them: they are looked at by their role until a person says otherwise. */
export function useInspection(
  shot: Shot,
  { of }: SightChoice,
  state: ViewerState,
  change: (change: Partial<ViewerState>) => void,
): { inspection: Inspection; onInspection: (inspection: Inspection) => void } {
  const pass =
    of.kind === 'pass'
      ? shot.sources.find((s) => s.id === of.sourceId)?.passes.find((p) => p.name === of.pass)
      : undefined;
  const data = pass !== undefined && dataRoles.has(pass.role);
  const key = data && of.kind === 'pass' ? `${of.sourceId} ${of.pass}` : '';
  const role = pass?.role ?? 'other';
  const inspection = useMemo(
    () =>
      (data
        ? (state.ranges[key] ?? byRole[role] ?? { kind: 'range', near: 0, far: 1 })
        : state.inspection) as Inspection,
    [data, key, role, state.ranges, state.inspection],
  );
  const onInspection = useCallback(
    (next: Inspection) => change(data ? { ranges: { ...state.ranges, [key]: next } } : { inspection: next }),
    [change, data, key, state.ranges],
  );
  return { inspection, onInspection };
}
