import type { Window } from '@june-haze/core';
import type { Source } from '@june-haze/contract';
import { toPane, type Laid } from './geometry.ts';

interface Props {
  readonly laid: Laid;
  readonly size: { readonly width: number; readonly height: number };
  /** The source that is looked at by itself: where its file has data. */
  readonly source: Source | undefined;
  readonly region: Window | null;
}

/** The border of the picture, of its data where they are fewer, and of the marked region. */
export function Windows({ laid, size, source, region }: Props) {
  const data = source && dataOf(source);
  return (
    <>
      <Box laid={laid} window={{ x: 0, y: 0, ...size }} kind="display-window" words={undefined} />
      {data && <Box laid={laid} window={data} kind="data-window" words={`data ${data.width}×${data.height}`} />}
      {region && <Box laid={laid} window={region} kind="region" words={undefined} />}
    </>
  );
}

function Box({ laid, window, kind, words }: { laid: Laid; window: Window; kind: string; words: string | undefined }) {
  const [left, top] = toPane(laid, window.x, window.y);
  const [right, bottom] = toPane(laid, window.x + window.width, window.y + window.height);
  return (
    <div className={`window ${kind}`} aria-hidden style={{ left, top, width: right - left, height: bottom - top }}>
      {words !== undefined && <span>{words}</span>}
    </div>
  );
}

/** Where a source has data, in pixels of its picture; undefined where that is all of it. */
function dataOf({ dataWindow: data, displayWindow: display, width, height }: Source): Window | undefined {
  if (!data || !display) return undefined;
  const window = {
    x: data.xMin - display.xMin,
    y: data.yMin - display.yMin,
    width: data.xMax - data.xMin + 1,
    height: data.yMax - data.yMin + 1,
  };
  const all = window.x === 0 && window.y === 0 && window.width === width && window.height === height;
  return all ? undefined : window;
}
