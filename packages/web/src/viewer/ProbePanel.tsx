import type { Shot } from '@june-haze/contract';
import { useShotColour } from '../api/colour.ts';
import type { ProbeAnswer } from './messages.ts';

export interface Probed {
  x: number;
  y: number;
  answer: ProbeAnswer;
}

const figure = (x: number) =>
  Math.abs(x) >= 1000 || (x !== 0 && Math.abs(x) < 0.0005) ? x.toExponential(2) : x.toFixed(4);

/** One pixel in three ways: as the source's declared space has it, in the working space, and as display codes. */
export function ProbePanel({
  probed: { x, y, answer },
  shot,
  display,
}: {
  probed: Probed;
  shot: Shot;
  display: string;
}) {
  const { data: colour } = useShotColour(shot.colour);
  const weights = colour?.luminance(shot.workingSpace) ?? [0.2126, 0.7152, 0.0722];
  const light = weights.reduce((sum, w, i) => sum + w * answer.working[i]!, 0);
  // 18 % grey is the middle that stops are counted from.
  const stops =
    light > 0
      ? `${Math.log2(light / 0.18) >= 0 ? '+' : '−'}${Math.abs(Math.log2(light / 0.18)).toFixed(1)} stops`
      : 'black';
  const source = shot.sources.find((s) => s.id === answer.declared?.sourceId);
  const rows: [string, readonly (string | number)[]][] = [
    source && answer.declared
      ? [`declared ${source.declaredSpace ?? 'nothing'}`, answer.declared.values.map(figure)]
      : ['no pass', ['–', '–', '–']],
    [`working ${shot.workingSpace}`, answer.working.slice(0, 3).map(figure)],
    [`shown ${display}`, [...answer.codes]],
  ];
  return (
    <table className="probe" data-testid="probe" aria-label="Probe" aria-live="polite">
      <tbody>
        {rows.map(([label, values], i) => (
          <tr key={label}>
            <td className="number quiet">
              {i === 0 ? `at ${x}, ${y}` : i === 1 ? `alpha ${answer.working[3].toFixed(2)}` : stops}
            </td>
            <td className="quiet">{label}</td>
            {values.map((v, c) => (
              <td key={c} className="number value">
                {v}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
