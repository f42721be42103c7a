import { Checkbox, Segmented } from 'antd';
import {
  ap1,
  p3d65,
  rec2020,
  rec709,
  spectralLocus,
  vectorOf,
  vectorSpan,
  type Primaries,
  type ScopeCounts,
  type ScopesOf,
} from '@june-haze/core';
import { memo, useCallback, useEffect, useRef, useState, type RefObject } from 'react';
import { useRoom } from '../../room/room.ts';
import type { ViewerState } from '../viewerState.ts';
import { scopeKinds, type ScopeKind } from '../ways.ts';
import { channelWords, chromaticityAt, drawHistogram, drawSquare, drawWaveform, scaleOf } from './drawScopes.ts';

type Kept = ViewerState['scopes'];

interface Props {
  readonly scopes: Kept;
  readonly onScopes: (scopes: Kept) => void;
  readonly hasRegion: boolean;
  /** Where counts are told as they come, past React. */
  readonly listen: (listener: (counts: ScopeCounts) => void) => () => void;
  readonly title: string;
}

/** Milliseconds between two drawings, at least. */
const betweenDrawings = 160;

const ofWords: Readonly<Record<ScopesOf, string>> = {
  shown: 'codes',
  working: 'stops from grey',
  linear: 'working numbers',
};

const titles: Readonly<Record<ScopeKind, string>> = { brightness: 'Y', overlaid: 'RGB', parade: 'R G B' };

/** The scopes of the picture in one drawer and on one scale: waveform and histogram share it, of codes or of stops from grey. */
export const ScopesDrawer = memo(function ScopesDrawer({ scopes, onScopes, hasRegion, listen, title }: Props) {
  const { of, waveform, regionOnly } = scopes;
  const wave = useRef<HTMLCanvasElement>(null);
  const bars = useRef<HTMLCanvasElement>(null);
  const vectors = useRef<HTMLCanvasElement>(null);
  const chromaticity = useRef<HTMLCanvasElement>(null);
  const dim = useRoom().theme === 'dim';
  const [logarithmic, setLogarithmic] = useState(true);
  const last = useRef<ScopeCounts>(undefined);
  const draw = useCallback(
    (counts: ScopeCounts) => {
      put(wave, drawWaveform(counts, waveform, dim));
      drawHistogram(bars.current, counts, logarithmic, dim);
      put(vectors, drawSquare(counts.vectors, dim));
      put(chromaticity, drawSquare(counts.chromaticity, dim));
    },
    [waveform, logarithmic, dim],
  );
  useEffect(() => {
    if (last.current) draw(last.current);
    let due: ReturnType<typeof setTimeout> | undefined;
    let drawnAt = 0;
    const stopListening = listen((counts) => {
      last.current = counts;
      // The picture goes first: scopes are drawn a few times a second while it moves, and the last always.
      due ??= setTimeout(
        () => {
          due = undefined;
          drawnAt = performance.now();
          if (last.current) draw(last.current);
        },
        Math.max(0, drawnAt + betweenDrawings - performance.now()),
      );
    });
    return () => {
      clearTimeout(due);
      stopListening();
    };
  }, [listen, draw]);
  return (
    <section className="scopes" aria-label={`Scopes of ${title}`}>
      <div className="scope-settings">
        <Segmented<ScopesOf>
          size="small"
          aria-label="Scopes of"
          value={of}
          onChange={(value) => onScopes({ ...scopes, of: value })}
          options={[
            { value: 'shown', label: 'Codes' },
            { value: 'working', label: 'Stops' },
            { value: 'linear', label: 'Linear' },
          ]}
        />
        <Segmented<ScopeKind>
          size="small"
          aria-label="Waveform"
          value={waveform}
          onChange={(value) => onScopes({ ...scopes, waveform: value })}
          options={scopeKinds.map((k) => ({ value: k, label: titles[k] }))}
        />
        <Checkbox checked={logarithmic} onChange={(e) => setLogarithmic(e.target.checked)}>
          log counts
        </Checkbox>
        <Checkbox
          checked={regionOnly && hasRegion}
          disabled={!hasRegion}
          onChange={(e) => onScopes({ ...scopes, regionOnly: e.target.checked })}
        >
          region only
        </Checkbox>
      </div>
      <figure className="scope wave">
        <Scale of={of} />
        <canvas ref={wave} data-testid="waveform" aria-label="Waveform" role="img" />
        <figcaption>waveform, {ofWords[of]}</figcaption>
      </figure>
      <figure className="scope bars">
        <Scale of={of} bare />
        <canvas ref={bars} data-testid="histogram" aria-label="Histogram" role="img" />
        <figcaption>
          histogram <Inks dim={dim} />
        </figcaption>
      </figure>
      <figure className="scope square">
        <canvas ref={vectors} data-testid="vectorscope" aria-label="Vectorscope" role="img" />
        <Targets />
        <figcaption>vectors of codes</figcaption>
      </figure>
      <figure className="scope square">
        <canvas ref={chromaticity} data-testid="chromaticity" aria-label="Chromaticities" role="img" />
        <Gamuts />
        <figcaption>chromaticity of light</figcaption>
      </figure>
    </section>
  );
});

function put(canvas: RefObject<HTMLCanvasElement | null>, image: ImageData): void {
  const target = canvas.current;
  if (!target) return;
  if (target.width !== image.width) target.width = image.width;
  if (target.height !== image.height) target.height = image.height;
  target.getContext('2d')!.putImageData(image, 0, 0);
}

const Inks = ({ dim }: { dim: boolean }) => (
  <span aria-hidden>
    {(['red', 'green', 'blue'] as const).map((c) => (
      <b key={c} style={{ color: channelWords[dim ? 'dim' : 'light'][c] }}>
        {c[0]!.toUpperCase()}{' '}
      </b>
    ))}
  </span>
);

/** The lines of the scale that waveform and histogram share. */
const Scale = ({ of, bare = false }: { of: ScopesOf; bare?: boolean }) => (
  <div className="scale" aria-hidden>
    {scaleOf(of).map(({ at, words }) => (
      <i key={words} style={{ bottom: `${at * 100}%` }}>
        {!bare && <span className="number">{words}</span>}
      </i>
    ))}
  </div>
);

/** Where the full primaries and secondaries of codes lie. */
const vectorTargets = (
  [
    ['R', 1, 0, 0],
    ['Y', 1, 1, 0],
    ['G', 0, 1, 0],
    ['C', 0, 1, 1],
    ['B', 0, 0, 1],
    ['M', 1, 0, 1],
  ] as const
).map(([name, r, g, b]) => {
  const [cb, cr] = vectorOf(r, g, b);
  return { name, x: 0.5 + cb / (2 * vectorSpan), y: 0.5 - cr / (2 * vectorSpan) };
});

const Targets = () => (
  <svg viewBox="0 0 1 1" aria-hidden>
    <path d="M0 .5H1M.5 0V1" />
    {vectorTargets.map(({ name, x, y }) => (
      <g key={name}>
        <circle cx={x} cy={y} r={0.02} />
        <text x={x + (x < 0.5 ? 0.04 : -0.09)} y={y + (y < 0.5 ? 0.09 : -0.03)}>
          {name}
        </text>
      </g>
    ))}
  </svg>
);

const gamuts: readonly (readonly [string, Primaries, string])[] = [
  ['Rec.709', rec709, ''],
  ['P3', p3d65, '.03 .015'],
  ['Rec.2020', rec2020, '.012 .012'],
  ['AP1', ap1, '.05 .01 .01 .01'],
];

const Gamuts = () => (
  <svg viewBox="0 0 1 1" aria-label={`Outlines of ${gamuts.map(([name]) => name).join(', ')}`}>
    <polyline className="locus" points={spectralLocus.map(([x, y]) => chromaticityAt(x, y).join()).join(' ')} />
    {gamuts.map(([name, { red, green, blue }, dashes]) => (
      <polygon
        key={name}
        strokeDasharray={dashes}
        points={[red, green, blue].map(([x, y]) => chromaticityAt(x, y).join()).join(' ')}
      >
        <title>{name}</title>
      </polygon>
    ))}
  </svg>
);
