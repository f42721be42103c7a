import type { ProbeAnswer } from '../engine/messages.ts';
import { probeLines, stopsWords, type ProbePlace } from './probeWords.ts';

export interface Probed {
  readonly x: number;
  readonly y: number;
  readonly answer: ProbeAnswer;
  /** The same pixel of the second picture, where there is one. */
  readonly other?: ProbeAnswer | undefined;
}

interface Props {
  readonly probed: Probed;
  readonly place: ProbePlace;
  readonly placeOfSecond: ProbePlace;
  /** What the second picture is, where there is one. */
  readonly second?: string | undefined;
  /** Which thing an ID is. */
  readonly thing?: string | undefined;
}

/** One pixel: as the source's declared space has it, in the working space, as display codes; of both pictures where two are seen. */
export function ProbePanel({ probed: { x, y, answer, other }, place, placeOfSecond, second, thing }: Props) {
  const lines = probeLines(answer, place);
  const heads = [`at ${x}, ${y}`, stopsWords(answer.working, place), `alpha ${answer.working[3].toFixed(2)}`];
  return (
    <table className="probe" data-testid="probe" aria-label="Probe" aria-live="polite">
      <tbody>
        {lines.map(([label, values], i) => (
          <Line key={label} head={heads[i]} label={label} values={values} />
        ))}
        {other && second !== undefined && (
          <>
            <tr>
              <td colSpan={5} className="strong clip" style={{ maxWidth: 300 }}>
                {second}
              </td>
            </tr>
            {probeLines(other, placeOfSecond)
              .slice(-2)
              .map(([label, values], i) => (
                <Line
                  key={label}
                  head={i === 0 ? stopsWords(other.working, placeOfSecond) : undefined}
                  label={label}
                  values={values}
                />
              ))}
          </>
        )}
        {thing !== undefined && (
          <tr>
            <td colSpan={5}>
              <span className="quiet">ID of</span> {thing}
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}

function Line({ head, label, values }: { head: string | undefined; label: string; values: readonly string[] }) {
  return (
    <tr>
      <td className="number quiet">{head}</td>
      <td className="quiet">{label}</td>
      {values.map((v, c) => (
        <td key={c} className="number value">
          {v}
        </td>
      ))}
    </tr>
  );
}
