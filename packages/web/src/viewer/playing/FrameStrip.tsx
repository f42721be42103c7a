import { memo, useEffect, useRef } from 'react';
import { Button, InputNumber, Select, Tooltip } from 'antd';
import type { Shot } from '@june-haze/contract';
import { Pause, Play } from 'lucide-react';
import { useCommand } from '../../commands/registry.ts';
import { playingWays, type PlayingWay } from './player.ts';
import type { Playback } from './usePlayback.ts';

const wordsOf = {
  ' bad': ', missing or damaged',
  ' held': '',
  ' stale': ', changed since it was drawn',
  '': ', not drawn yet',
};

const oddWords = {
  flash: 'a flash: unlike both neighbours',
  jump: 'unlike the frame before',
  repeat: 'the frame before again',
} as const;

interface Props {
  shot: Shot;
  playback: Playback;
  /** Frames at which something is keyed. */
  keys?: readonly number[];
}
const none: readonly number[] = [];

/** The shot's frames: choose one, step, play between marks, step through those that are unlike their neighbours. */
export const FrameStrip = memo(function FrameStrip({ shot, playback, keys = none }: Props) {
  const { frame, playing, setFrame, toggle, seen, held, listen, first, last, way, change, odd, threshold } = playback;
  const number = useRef<HTMLSpanElement>(null);
  const rate = useRef<HTMLSpanElement>(null);
  const ticks = useRef<HTMLDivElement>(null);
  const count = shot.lastFrame - shot.firstFrame + 1;
  const bad = new Set(shot.sources.flatMap((s) => [...s.missing, ...s.damaged.map((d) => d.frame)]));
  const { firstFrame, lastFrame } = shot;
  const marked = first !== firstFrame || last !== lastFrame;
  useStripCommands(shot, playback);
  // Playing writes past React: a frame changes a number and a mark.
  useEffect(
    () =>
      listen((played) => {
        markFrame(number.current!, ticks.current!, played.frame, firstFrame);
        if (played.measured !== undefined)
          rate.current!.textContent = `measured ${played.measured.toFixed(1)}, dropped ${played.dropped}`;
      }),
    [listen, firstFrame],
  );
  // Where it stops at the frame that React showed last, React has nothing to write: what was written past it is put right here.
  useEffect(() => {
    if (!playing) markFrame(number.current!, ticks.current!, frame, firstFrame);
  }, [playing, frame, firstFrame]);
  const stateOf = (f: number) => (bad.has(f) ? ' bad' : held.has(f) ? ' held' : seen.has(f) ? ' stale' : '');
  const keyed = new Set(keys);
  const oddAt = new Map(odd.map((o) => [o.frame, o]));
  const words = (f: number) => {
    const o = oddAt.get(f);
    return `${o ? `, ${oddWords[o.kind]}` : ''}${keyed.has(f) ? ', keyed' : ''}`;
  };
  return (
    <div className="strip">
      <div style={{ display: 'flex', gap: 10, alignItems: 'center', whiteSpace: 'nowrap' }}>
        <Tooltip title="Play at the shot’s rate (space)">
          <Button size="small" icon={playing ? <Pause size={12} /> : <Play size={12} />} onClick={toggle}>
            {playing ? 'Stop' : 'Play'}
          </Button>
        </Tooltip>
        <Select<PlayingWay>
          size="small"
          aria-label="After the last frame"
          value={way}
          onChange={(value) => change({ way: value })}
          options={playingWays.map((value) => ({ value, label: value }))}
          popupMatchSelectWidth={false}
          style={{ width: 108 }}
        />
        <span>
          <span className="number" data-testid="frame" ref={number}>
            {frame}
          </span>{' '}
          <span className="quiet">of</span>{' '}
          <span className="number">
            {first}–{last}
          </span>
        </span>
        {!playing && oddAt.has(frame) && <span>{oddWords[oddAt.get(frame)!.kind]}</span>}
        {marked && (
          <Button size="small" onClick={() => change({ first: null, last: null })} title="Play all of the shot">
            All
          </Button>
        )}
        <span className="quiet">
          <span className="number">{shot.rate}</span> fps
        </span>
        {playing && <span className="number quiet" data-testid="measured" ref={rate} />}
        <span className="grow" />
        {held.size > 1 && (
          <Tooltip title="Frames that differ from the one before by more code values than this, or not at all (Alt+. and Alt+,)">
            <span className="quiet">
              odd <span className="number">{odd.length}</span> over{' '}
              <InputNumber
                size="small"
                aria-label="Odd frames differ by more code values than"
                value={threshold}
                min={0.1}
                step={1}
                controls={false}
                onChange={(v) => v !== null && change({ threshold: v })}
                style={{ width: 44 }}
              />
            </span>
          </Tooltip>
        )}
        <span className="quiet">
          held <span className="number">{held.size}</span> of <span className="number">{count}</span>
        </span>
      </div>
      <div
        ref={ticks}
        className="ticks"
        role="group"
        aria-label="Frames"
        style={{ gridTemplateColumns: `repeat(${count}, 1fr)` }}
      >
        {Array.from({ length: count }, (_, i) => shot.firstFrame + i).map((f) => (
          <button
            key={f}
            className={`plain tick${stateOf(f)}${f === frame ? ' now' : ''}${f < first || f > last ? ' out' : ''}${oddAt.has(f) ? ' odd' : ''}${keyed.has(f) ? ' keyed' : ''}`}
            aria-label={`Frame ${f}${wordsOf[stateOf(f)]}${words(f)}`}
            title={oddAt.has(f) ? `${f}${words(f)}, by ${oddAt.get(f)!.difference.toFixed(1)} code values` : undefined}
            aria-current={f === frame}
            tabIndex={f === frame ? 0 : -1}
            onClick={() => setFrame(f)}
          />
        ))}
      </div>
      <div
        className="number quiet"
        style={{ display: 'flex', justifyContent: 'space-between', fontSize: 11.5, lineHeight: '14px' }}
      >
        <span>{shot.firstFrame}</span>
        <span>{shot.lastFrame}</span>
      </div>
    </div>
  );
});

function markFrame(number: HTMLElement, ticks: HTMLElement, frame: number, firstFrame: number): void {
  number.textContent = String(frame);
  for (const now of ticks.querySelectorAll('.now')) now.classList.remove('now');
  ticks.children[frame - firstFrame]?.classList.add('now');
}

/** The strip's keys. */
function useStripCommands({ firstFrame, lastFrame }: Shot, playback: Playback): void {
  const { frame, setFrame, toggle, first, last, odd, change } = playback;
  const nextOdd = odd.find((o) => o.frame > frame) ?? odd[0];
  const oddBefore = odd.findLast((o) => o.frame < frame) ?? odd.at(-1);
  useCommand({ name: 'Frame before', keys: 'comma', run: () => setFrame(Math.max(firstFrame, frame - 1)) });
  useCommand({ name: 'Frame after', keys: 'period', run: () => setFrame(Math.min(lastFrame, frame + 1)) });
  useCommand({ name: 'First frame of what is played', keys: 'shift+comma', run: () => setFrame(first) });
  useCommand({ name: 'Last frame of what is played', keys: 'shift+period', run: () => setFrame(last) });
  useCommand({ name: 'Play or stop', keys: 'space', run: toggle });
  useCommand({
    name: 'Play from this frame on',
    keys: 'bracketleft',
    run: () => change({ first: frame, ...(frame > last ? { last: null } : {}) }),
  });
  useCommand({
    name: 'Play up to this frame',
    keys: 'bracketright',
    run: () => change({ last: frame, ...(frame < first ? { first: null } : {}) }),
  });
  useCommand({
    name: 'Next odd frame',
    keys: 'alt+period',
    run: () => nextOdd && setFrame(nextOdd.frame),
    enabled: odd.length > 0,
  });
  useCommand({
    name: 'Odd frame before',
    keys: 'alt+comma',
    run: () => oddBefore && setFrame(oddBefore.frame),
    enabled: odd.length > 0,
  });
}
