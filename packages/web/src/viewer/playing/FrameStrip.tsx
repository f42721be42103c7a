import { memo, useEffect, useRef } from 'react';
import { Button, Tooltip } from 'antd';
import type { Shot } from '@june-haze/contract';
import { Pause, Play } from 'lucide-react';
import { useCommand } from '../../commands/registry.ts';
import type { Playback } from './usePlayback.ts';

const wordsOf = {
  ' bad': ', missing or damaged',
  ' held': '',
  ' stale': ', changed since it was drawn',
  '': ', not drawn yet',
};

/** The shot's frames: choose one, step with comma and full stop, play with the space bar. */
export const FrameStrip = memo(function FrameStrip({ shot, playback }: { shot: Shot; playback: Playback }) {
  const { frame, playing, setFrame, toggle, seen, held, listen } = playback;
  const number = useRef<HTMLSpanElement>(null);
  const rate = useRef<HTMLSpanElement>(null);
  const ticks = useRef<HTMLDivElement>(null);
  const count = shot.lastFrame - shot.firstFrame + 1;
  const bad = new Set(shot.sources.flatMap((s) => [...s.missing, ...s.damaged.map((d) => d.frame)]));
  const { firstFrame, lastFrame } = shot;
  useCommand({ name: 'Frame before', keys: 'comma', run: () => setFrame(Math.max(firstFrame, frame - 1)) });
  useCommand({ name: 'Frame after', keys: 'period', run: () => setFrame(Math.min(lastFrame, frame + 1)) });
  useCommand({ name: 'Play or stop', keys: 'space', run: toggle });
  // Playing writes past React: a frame changes a number and a mark.
  useEffect(
    () =>
      listen((played) => {
        number.current!.textContent = String(played.frame);
        for (const now of ticks.current!.querySelectorAll('.now')) now.classList.remove('now');
        ticks.current!.children[played.frame - firstFrame]?.classList.add('now');
        if (played.measured !== undefined)
          rate.current!.textContent = `measured ${played.measured.toFixed(1)}, dropped ${played.dropped}`;
      }),
    [listen, firstFrame],
  );
  const stateOf = (f: number) => (bad.has(f) ? ' bad' : held.has(f) ? ' held' : seen.has(f) ? ' stale' : '');
  return (
    <div className="strip">
      <div style={{ display: 'flex', gap: 14, alignItems: 'center' }}>
        <Tooltip title="Play at the shot’s rate (space)">
          <Button size="small" icon={playing ? <Pause size={12} /> : <Play size={12} />} onClick={toggle}>
            {playing ? 'Stop' : 'Play'}
          </Button>
        </Tooltip>
        <span>
          <span className="number" data-testid="frame" ref={number}>
            {frame}
          </span>{' '}
          <span className="quiet">of</span>{' '}
          <span className="number">
            {shot.firstFrame}–{shot.lastFrame}
          </span>
        </span>
        <span className="quiet">
          <span className="number">{shot.rate}</span> fps
        </span>
        {playing && <span className="number quiet" data-testid="measured" ref={rate} />}
        <span className="grow" />
        <span className="quiet">
          held <span className="number">{held.size}</span> of <span className="number">{count}</span> frames
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
            className={`plain tick${stateOf(f)}${f === frame ? ' now' : ''}`}
            aria-label={`Frame ${f}${wordsOf[stateOf(f)]}`}
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
