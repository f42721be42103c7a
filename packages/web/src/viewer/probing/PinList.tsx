import { Button } from 'antd';
import { X } from 'lucide-react';
import type { ProbeAnswer } from '../engine/messages.ts';
import { figure, stopsWords, type ProbePlace } from './probeWords.ts';

export interface Pinned {
  readonly where: string;
  readonly answer: ProbeAnswer | undefined;
  readonly remove: () => void;
}

/** Pinned pixels, and the mean of the marked region: their numbers stay in sight. */
export function PinList({ pins, place }: { pins: readonly Pinned[]; place: ProbePlace }) {
  return (
    <table className="pins" aria-label="Pinned">
      <tbody>
        {pins.map(({ where, answer, remove }, i) => (
          <tr key={where}>
            <td className="number strong">{where.startsWith('region') ? '▭' : i + 1}</td>
            <td className="number quiet">{where}</td>
            {answer ? (
              <>
                <td className="number">{answer.working.slice(0, 3).map(figure).join(' ')}</td>
                <td className="number">{answer.codes.map((c) => c.toFixed(answer.pixels === 1 ? 0 : 1)).join(' ')}</td>
                <td className="number">{stopsWords(answer.working, place)}</td>
              </>
            ) : (
              <td className="quiet" colSpan={3}>
                …
              </td>
            )}
            <td>
              <Button
                size="small"
                type="text"
                aria-label={`Take ${where} away`}
                icon={<X size={11} />}
                onClick={remove}
              />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
