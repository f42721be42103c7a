import { dataRoles, idNames, type Vector3, type Window } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import {
  useCallback,
  useEffect,
  useImperativeHandle,
  useMemo,
  useRef,
  useState,
  type Ref,
  type SyntheticEvent,
} from 'react';
import { useCommand } from '../../commands/registry.ts';
import { useCopy } from '../../frame/useCopy.ts';
import type { ProbeAnswer } from '../engine/messages.ts';
import { toPane, type Laid } from '../geometry.ts';
import type { PictureCanvasHandle } from '../PictureCanvas.tsx';
import type { SightChoice } from '../sights.ts';
import { PinList, type Pinned } from './PinList.tsx';
import { ProbePanel, type Probed } from './ProbePanel.tsx';
import { probeText, type ProbePlace } from './probeWords.ts';

export interface ProbeHandle {
  /** Reads the pixel there, in pixels of the whole picture. */
  at(x: number, y: number): void;
  /** The picture is another: pinned numbers are read again. */
  changed(): void;
  /** The pixel that is probed now. */
  readonly probed: { readonly x: number; readonly y: number } | undefined;
}

interface Props {
  readonly handle: Ref<ProbeHandle>;
  readonly shot: Shot;
  readonly first: SightChoice;
  readonly getA: () => PictureCanvasHandle | null;
  readonly getB: () => PictureCanvasHandle | null;
  /** What the second picture is, where two are seen. */
  readonly second: string | undefined;
  /** Pictures that are shown untouched: their numbers are codes, and no light. */
  readonly untouched: { readonly first: boolean; readonly second: boolean };
  readonly luminance: Vector3;
  readonly laid: Laid;
  readonly pins: readonly (readonly [number, number])[];
  readonly onPins: (pins: [number, number][]) => void;
  readonly region: Window | null;
  readonly onRegion: (region: Window | null) => void;
}

/** The numbers under the pointer, of pinned pixels, and the mean of the marked region. */
export function ProbeLayer(props: Props) {
  const { handle, shot, first, getA, getB, second, untouched, luminance, laid, pins, onPins, region, onRegion } = props;
  const [probed, setProbed] = useState<Probed>();
  const [numbers, setNumbers] = useState<ReadonlyMap<string, ProbeAnswer>>(new Map());
  const place: ProbePlace = {
    sources: shot.sources,
    workingSpace: shot.workingSpace,
    display: shot.viewing.display,
    luminance,
    holds: untouched.first ? 'codes' : isData(shot, first) ? 'data' : 'light',
  };
  const placeOfSecond: ProbePlace = { ...place, holds: untouched.second ? 'codes' : place.holds };
  const reading = useRef({ busy: false, next: undefined as readonly [number, number] | undefined });
  const at = useCallback(
    (x: number, y: number) => {
      // One at a time, the newest next: a pointer that runs asks for no more than can be read.
      const r = reading.current;
      if (r.busy) {
        r.next = [x, y];
        return;
      }
      r.busy = true;
      const read = async (px: number, py: number): Promise<void> => {
        const [answer, other] = await Promise.all([readAt(getA(), px, py), readAt(getB(), px, py)]);
        if (answer) setProbed({ x: px, y: py, answer, other });
        const { next } = r;
        r.next = undefined;
        if (next) await read(...next);
      };
      // What cannot be read is told by the picture itself.
      void read(x, y)
        .catch(() => undefined)
        .finally(() => (r.busy = false));
    },
    [getA, getB],
  );
  const wanted = useMemo(
    () => [
      ...pins.map(([x, y]) => [`${x}, ${y}`, { x, y, width: 1, height: 1 }] as const),
      ...(region ? [[regionWords(region), region] as const] : []),
    ],
    [pins, region],
  );
  const turn = useRef(0);
  const readPins = useCallback(() => {
    const own = ++turn.current;
    void Promise.all(wanted.map(async ([where, w]) => [where, await readIn(getA(), w)] as const))
      .then((all) => {
        const found = all.flatMap(([where, answer]) => (answer ? [[where, answer] as const] : []));
        if (own === turn.current) setNumbers(new Map(found));
      })
      .catch(() => undefined);
  }, [wanted, getA]);
  useEffect(readPins, [readPins]);
  useImperativeHandle(
    handle,
    () => ({
      at,
      changed: () => {
        readPins();
        if (probed) at(probed.x, probed.y);
      },
      probed,
    }),
    [at, readPins, probed],
  );
  const pin = () => probed && onPins([...pins.slice(-7), [probed.x, probed.y]] as [number, number][]);
  const copyText = useCopy();
  const copy = () => {
    const text = [
      ...(probed ? [probeText(`at ${probed.x}, ${probed.y}`, probed.answer, place)] : []),
      ...(probed?.other && second !== undefined ? [probeText(second, probed.other, placeOfSecond)] : []),
      ...[...numbers].map(([where, answer]) => probeText(where, answer, place)),
    ].join('\n');
    copyText(text, 'Numbers copied');
  };
  useCommand({ name: 'Pin the probed pixel', keys: 'shift+p', run: () => void pin() });
  useCommand({ name: 'Copy the probed numbers', keys: 'c', run: copy });
  useCommand({ name: 'Take all pins away', run: () => onPins([]), enabled: pins.length > 0 });

  const thing = useThing(shot, first, probed);
  const listed: Pinned[] = wanted.map(([where], i) => ({
    where,
    answer: numbers.get(where),
    remove: () => (i < pins.length ? onPins(pins.filter((_, k) => k !== i) as [number, number][]) : onRegion(null)),
  }));
  const mark = (x: number, y: number) => {
    const [left, top] = toPane(laid, x + 0.5, y + 0.5);
    return { left, top };
  };
  return (
    <>
      {probed && <i className="probe-mark" aria-hidden style={mark(probed.x, probed.y)} />}
      {pins.map(([x, y], i) => (
        <i key={`${x} ${y}`} className="pin number" aria-hidden style={mark(x, y)}>
          {i + 1}
        </i>
      ))}
      <div className="readings" onPointerDown={stop} onPointerMove={stop} onDoubleClick={stop}>
        {listed.length > 0 && <PinList pins={listed} place={place} />}
        {probed && (
          <ProbePanel probed={probed} place={place} placeOfSecond={placeOfSecond} second={second} thing={thing} />
        )}
      </div>
    </>
  );
}

/** What is done with the readings is not done with the picture under them. */
const stop = (event: SyntheticEvent) => event.stopPropagation();

export const regionWords = ({ x, y, width, height }: Window): string => `region ${width}×${height} at ${x}, ${y}`;

const readAt = (canvas: PictureCanvasHandle | null, x: number, y: number) =>
  readIn(canvas, { x, y, width: 1, height: 1 });

/** The means of a region, at the level that is shown: its pixels are those that hold something of it. */
async function readIn(canvas: PictureCanvasHandle | null, region: Window): Promise<ProbeAnswer | undefined> {
  const engine = canvas?.engine;
  const shown = engine?.shown?.request;
  if (!engine || !shown) return undefined;
  const side = 2 ** shown.level;
  const [x, y] = [Math.floor(region.x / side), Math.floor(region.y / side)];
  const end = (from: number, length: number, most: number) => Math.min(most, Math.ceil((from + length) / side));
  const width = end(region.x, region.width, shown.width) - x;
  const height = end(region.y, region.height, shown.height) - y;
  return engine.probe({ x, y, width, height });
}

/** Which thing an ID under the pointer is, where IDs are looked at and their manifest names it. */
function useThing(shot: Shot, { of }: SightChoice, probed: Probed | undefined): string | undefined {
  const source = of.kind === 'pass' ? shot.sources.find((s) => s.id === of.sourceId) : undefined;
  const pass = of.kind === 'pass' ? source?.passes.find((p) => p.name === of.pass) : undefined;
  const names = useMemo(
    () => (source && pass?.role === 'id-matte' ? idNames(source.attributes) : undefined),
    [source, pass],
  );
  if (!names || !probed) return undefined;
  const [id] = probed.answer.working;
  return id === 0 ? 'nothing' : (names.get(id) ?? 'something that the manifest does not name');
}

/** Whether a pass is looked at that holds no light. */
function isData(shot: Shot, { of }: SightChoice): boolean {
  if (of.kind !== 'pass') return false;
  const role = shot.sources.find((s) => s.id === of.sourceId)?.passes.find((p) => p.name === of.pass)?.role;
  return role !== undefined && dataRoles.has(role);
}
