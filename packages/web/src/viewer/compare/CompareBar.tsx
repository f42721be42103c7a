import { Button, Select, Tooltip } from 'antd';
import type { PictureDifference } from '@june-haze/core';
import { ArrowDownUp } from 'lucide-react';
import { memo } from 'react';
import { differenceTimes, wayNames, ways, type Way } from '../ways.ts';
import type { ComparedFigures } from './useFigures.ts';

interface Props {
  readonly first: string;
  readonly second: string;
  readonly notes: readonly string[];
  readonly way: Way;
  readonly onWay: (way: Way) => void;
  readonly times: number;
  readonly onTimes: (times: number) => void;
  readonly figures: ComparedFigures | undefined;
  /** Shows the place of the largest difference. */
  readonly onGo: (at: PictureDifference['at']) => void;
  readonly onChoose: () => void;
  readonly onSwap: () => void;
  readonly onClose: () => void;
}

/** Which two pictures are compared, how, and the figures between them. */
export const CompareBar = memo(function CompareBar(props: Props) {
  const { first, second, notes, way, onWay, times, onTimes, figures, onGo, onChoose, onSwap, onClose } = props;
  return (
    <div className="bar compare" role="group" aria-label="Comparison">
      <Select<Way>
        size="small"
        aria-label="Way of comparing"
        value={way}
        onChange={onWay}
        popupMatchSelectWidth={false}
        options={ways
          .filter((w) => w !== 'alone')
          .map((w) => ({ value: w, label: wayNames[w].label, title: wayNames[w].says }))}
        style={{ width: 112 }}
      />
      {way === 'difference' && (
        <Select<number>
          size="small"
          aria-label="Difference times"
          value={times}
          onChange={onTimes}
          options={differenceTimes.map((t) => ({ value: t, label: `×${t}` }))}
          style={{ width: 66 }}
        />
      )}
      <Tooltip title={[`${first} against ${second}`, ...notes].join('; ')}>
        <button
          className="plain names two-lines"
          onClick={onChoose}
          aria-label={`${first} against ${second}: choose another`}
        >
          <span className="clip">
            <span className="number quiet">A</span> {first}
          </span>
          <span className="clip">
            <span className="number quiet">B</span> {second}
          </span>
        </button>
      </Tooltip>
      <Button
        size="small"
        aria-label="Swap both"
        title="The first for the second"
        icon={<ArrowDownUp size={12} />}
        onClick={onSwap}
      />
      <span className="grow" />
      <FigureLine figures={figures} onGo={onGo} />
      <Button size="small" onClick={onClose}>
        End
      </Button>
    </div>
  );
});

/** The figures between both pictures, of all of them or of the region. */
function FigureLine({ figures, onGo }: Pick<Props, 'figures' | 'onGo'>) {
  if (!figures)
    return (
      <span className="quiet" data-testid="figures">
        being counted
      </span>
    );
  const { maxCode, meanCode, codes, deltaE, at, whole } = figures;
  return (
    <span className="figures number" data-testid="figures" role="status">
      <Tooltip
        title={`${whole ? 'The whole picture' : 'The region'} at full size. Codes are 8-bit: percentiles of each pixel’s largest channel, the mean of all three.`}
      >
        <span className="two-lines">
          <span>
            {maxCode === 0 ? 'identical' : `${maxCode} ${maxCode === 1 ? 'code' : 'codes'}`} · mean{' '}
            {meanCode.toFixed(2)} · 95 % {codes.p95} · 99 % {codes.p99}
          </span>
          <span>
            CIEDE2000 {deltaE.max.toFixed(2)} · mean {deltaE.mean.toFixed(2)} · 95 % {deltaE.p95.toFixed(2)} · 99 %{' '}
            {deltaE.p99.toFixed(2)}
          </span>
        </span>
      </Tooltip>
      {maxCode > 0 && (
        <Tooltip title="Go to the largest difference">
          <Button size="small" onClick={() => onGo(at)}>
            {at[0]}, {at[1]}
          </Button>
        </Tooltip>
      )}
    </span>
  );
}
