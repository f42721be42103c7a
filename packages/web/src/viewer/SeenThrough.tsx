import { Button, Tooltip } from 'antd';
import type { ViewingPart } from '@june-haze/core';
import type { Viewing } from '@june-haze/contract';
import { memo, type ReactNode } from 'react';
import { ViewingExposure } from './ViewingExposure.tsx';

interface Props {
  readonly viewing: Viewing;
  readonly exposure: number;
  readonly onMove: (stops: number) => void;
  readonly onExposure: (stops: number) => void;
  readonly off: readonly ViewingPart[];
  readonly onOff: (off: readonly ViewingPart[]) => void;
  readonly plain: boolean;
  readonly onPlain: (plain: boolean) => void;
  readonly children?: ReactNode;
}

/** The viewing in the order in which it is applied, each step switched on and off: for the eye alone. */
export const SeenThrough = memo(function SeenThrough(props: Props) {
  const { viewing, exposure, onMove, onExposure, off, onOff, plain, onPlain, children } = props;
  const look = [viewing.lookFile?.name, viewing.look].filter(Boolean).join(' + ') || 'no look';
  const parts: readonly (readonly [ViewingPart, string, string])[] = [
    ['exposure', exposureWords(viewing.exposure), 'Exposure in stops, the shot’s and the slider’s'],
    ['look', look, 'Look'],
    ['view', viewing.view, 'View: without it numbers are only encoded, as sRGB'],
    ['display', viewing.display, 'Display: without it numbers are shown as codes, as they are'],
  ];
  const swap = (part: ViewingPart) => onOff(off.includes(part) ? off.filter((p) => p !== part) : [...off, part]);
  return (
    <div className="bar seen-through">
      <span className="quiet">Viewing only</span>
      <ViewingExposure exposure={exposure} onMove={onMove} onExposure={onExposure} />
      <ol className="chain" aria-label="Order of the viewing">
        {parts.map(([part, words, title]) => {
          const on = !plain && !off.includes(part) && !(off.includes('display') && part !== 'display');
          return (
            <li key={part}>
              <Tooltip title={`${title}: ${on ? 'on' : 'off'}`}>
                <button
                  className={`plain part${on ? '' : ' off'}`}
                  aria-pressed={on}
                  disabled={plain}
                  onClick={() => swap(part)}
                >
                  {on ? words : <s>{words}</s>}
                </button>
              </Tooltip>
            </li>
          );
        })}
      </ol>
      <Tooltip title="As a reader that ignores all tags shows it: numbers taken for linear Rec.709, encoded as sRGB">
        <Button size="small" aria-pressed={plain} type={plain ? 'primary' : 'default'} onClick={() => onPlain(!plain)}>
          Plain view
        </Button>
      </Tooltip>
      <span className="grow" />
      {children}
    </div>
  );
});

/** The shot's own exposure, where it has one; the slider says its own. */
const exposureWords = (stops: number) =>
  stops === 0 ? 'exposure' : `exposure ${stops < 0 ? '−' : '+'}${Math.abs(stops).toFixed(1)}`;
