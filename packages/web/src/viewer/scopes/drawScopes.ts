import {
  chromaticitySpan,
  scopeChannels,
  scopeColumns,
  scopeLevels,
  scopeSide,
  scopeStops,
  waveformLevels,
  type ScopeCounts,
  type ScopesOf,
} from '@june-haze/core';
import type { ScopeKind } from '../ways.ts';

/** Words for the channels' inks beside the drawing. */
export const channelWords = {
  light: { red: '#a1321f', green: '#187834', blue: '#3a52c8' },
  dim: { red: '#f0917f', green: '#74cf8b', blue: '#a3b2ff' },
} as const;

type Channel = (typeof scopeChannels)[number];

const channelsOf: Readonly<Record<ScopeKind, readonly Channel[]>> = {
  brightness: ['brightness'],
  overlaid: ['red', 'green', 'blue'],
  parade: ['red', 'green', 'blue'],
};

/** Paper and how inks lie on it: on white each takes light away, on dark each adds it; where all lie it is neutral. */
class Paper {
  readonly data: ImageData;
  private readonly dim: boolean;

  constructor(width: number, height: number, dim: boolean) {
    this.data = new ImageData(width, height);
    this.dim = dim;
    const [r, g, b] = dim ? dimPaper : [255, 255, 255];
    const { data } = this.data;
    for (let i = 0; i < data.length; i += 4) [data[i], data[i + 1], data[i + 2], data[i + 3]] = [r, g, b, 255];
  }

  /** Puts ink over what is there, as much of it as `amount`. */
  mark(x: number, y: number, ink: readonly [number, number, number], amount: number): void {
    const { data, width } = this.data;
    const i = 4 * (y * width + x);
    for (let c = 0; c < 3; c++) {
      const taken = amount * (1 - ink[c]! / 255);
      data[i + c] = this.dim
        ? data[i + c]! + (255 - data[i + c]!) * amount * (ink[c]! / 255)
        : data[i + c]! * (1 - taken);
    }
  }
}

const dimPaper = [46, 46, 46] as const;

/** Inks of the channels, for white paper and for dark; the letter stands beside each. */
const inks = {
  light: { brightness: [40, 40, 40], red: [255, 92, 84], green: [70, 200, 96], blue: [88, 116, 255] },
  dim: { brightness: [210, 210, 210], red: [225, 40, 40], green: [30, 170, 60], blue: [60, 90, 245] },
} as const;
const inkOf = (channel: Channel, dim: boolean) => inks[dim ? 'dim' : 'light'][channel];

/** How dark a count is drawn: by its logarithm, so that single pixels are seen. */
const darkness = (count: number, most: number) => (count ? 0.15 + 0.85 * (Math.log1p(count) / Math.log1p(most)) : 0);

function largest(counts: Uint32Array, from: number, to: number): number {
  let most = 1;
  for (let i = from; i < to; i++) if (counts[i]! > most) most = counts[i]!;
  return most;
}

/** The waveform: columns as in the picture, levels upwards; channels over each other, or beside each other. */
export function drawWaveform({ waveform }: ScopeCounts, kind: ScopeKind, dim: boolean): ImageData {
  const channels = channelsOf[kind];
  const parts = kind === 'parade' ? channels.length : 1;
  const paper = new Paper(scopeColumns * parts, waveformLevels, dim);
  channels.forEach((channel, k) => {
    const at = scopeChannels.indexOf(channel) * waveformLevels * scopeColumns;
    const most = largest(waveform, at, at + waveformLevels * scopeColumns) / 2;
    const left = kind === 'parade' ? k * scopeColumns : 0;
    for (let level = 0; level < waveformLevels; level++)
      for (let column = 0; column < scopeColumns; column++) {
        const count = waveform[at + level * scopeColumns + column]!;
        if (count)
          paper.mark(
            left + column,
            waveformLevels - 1 - level,
            inkOf(channel, dim),
            Math.min(1, darkness(count, most)),
          );
      }
  });
  return paper.data;
}

const histogramWidth = 96;

/** The histogram on its side, so that it shares the waveform's scale: brightness as bars from the left, the channels as lines. */
export function drawHistogram(
  canvas: HTMLCanvasElement | null,
  { histogram }: ScopeCounts,
  logarithmic: boolean,
  dim: boolean,
): void {
  if (!canvas) return;
  if (canvas.width !== histogramWidth) canvas.width = histogramWidth;
  if (canvas.height !== scopeLevels) canvas.height = scopeLevels;
  const context = canvas.getContext('2d')!;
  context.fillStyle = dim ? `rgb(${dimPaper.join()})` : '#fff';
  context.fillRect(0, 0, histogramWidth, scopeLevels);
  const scale = (n: number) => (logarithmic ? Math.log1p(n) : n);
  for (const channel of ['brightness', 'red', 'green', 'blue'] as const) {
    const at = scopeChannels.indexOf(channel) * scopeLevels;
    // The ends hold all that lies beyond: they do not press the others flat.
    const most = scale(largest(histogram, at + 1, at + scopeLevels - 1));
    const long = (level: number) => Math.min(histogramWidth, (scale(histogram[at + level]!) / most) * histogramWidth);
    const ink = inkOf(channel, dim).join();
    if (channel === 'brightness') {
      context.fillStyle = `rgb(${ink} / 25%)`.replaceAll(',', ' ');
      for (let level = 0; level < scopeLevels; level++) context.fillRect(0, scopeLevels - 1 - level, long(level), 1);
      continue;
    }
    context.strokeStyle = `rgb(${ink})`;
    context.beginPath();
    for (let level = 0; level < scopeLevels; level++) context.lineTo(long(level), scopeLevels - 0.5 - level);
    context.stroke();
  }
}

/** A square of counts: vectors or chromaticities. */
export function drawSquare(counts: Uint32Array, dim: boolean): ImageData {
  const paper = new Paper(scopeSide, scopeSide, dim);
  const most = largest(counts, 0, counts.length) / 2;
  for (let line = 0; line < scopeSide; line++)
    for (let column = 0; column < scopeSide; column++) {
      const count = counts[line * scopeSide + column]!;
      if (count) paper.mark(column, scopeSide - 1 - line, inkOf('brightness', dim), Math.min(1, darkness(count, most)));
    }
  return paper.data;
}

/** Lines of a scale with their words, by height as a share from below. */
export function scaleOf(of: ScopesOf): readonly { readonly at: number; readonly words: string }[] {
  if (of === 'shown') return [0, 64, 128, 192, 255].map((code) => ({ at: (code + 0.5) / 256, words: String(code) }));
  if (of === 'linear') return [0, 0.25, 0.5, 0.75, 1].map((v) => ({ at: v, words: String(v) }));
  const stops = Array.from({ length: 2 * scopeStops + 1 }, (_, i) => i - scopeStops).filter((s) => s % 2 === 0);
  return stops.map((s) => ({
    at: (s + scopeStops) / (2 * scopeStops),
    words: s === 0 ? 'grey' : `${s > 0 ? '+' : '−'}${Math.abs(s)}`,
  }));
}

/** A chromaticity's place in its square, as shares from the left and from above. */
export const chromaticityAt = (x: number, y: number): readonly [number, number] => [
  x / chromaticitySpan.x,
  1 - y / chromaticitySpan.y,
];
