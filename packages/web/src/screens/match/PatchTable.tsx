import { Checkbox } from 'antd';
import { chartAcross, chartTargets } from '@june-haze/core';
import type { ChartAnswer } from '@june-haze/contract';

interface Props {
  readonly found: ChartAnswer;
  /** The targets are the published ones, whose names and colours are known. */
  readonly published: boolean;
  readonly without: readonly number[];
  readonly onWithout: (without: readonly number[]) => void;
}

/** Each patch with its error before and after; those that are dirty or in a shadow are left out by hand. */
export function PatchTable({ found, published, without, onWithout }: Props) {
  return (
    <table className="patches" aria-label="Patches">
      <thead>
        <tr>
          <th>counts</th>
          <th>patch</th>
          <th>before</th>
          <th>after</th>
          <th>noise</th>
        </tr>
      </thead>
      <tbody>
        {chartTargets.map(({ name, codes }, i) => {
          const { clipped, noise } = found.patches[i]!;
          const place = `row ${Math.floor(i / chartAcross) + 1}, ${(i % chartAcross) + 1}`;
          return (
            <tr key={name}>
              <td>
                <Checkbox
                  aria-label={`Patch ${i + 1} counts`}
                  checked={!without.includes(i) && clipped === 0}
                  disabled={clipped > 0}
                  onChange={(e) => onWithout(e.target.checked ? without.filter((w) => w !== i) : [...without, i])}
                />
              </td>
              <td>
                {published && <i style={{ background: `rgb(${codes.join()})` }} />} {published ? name : place}
                {clipped > 0 ? ', clipped' : ''}
              </td>
              <td className="number">{found.before[i]!.toFixed(2)}</td>
              <td className="number">{found.after[i]!.toFixed(2)}</td>
              <td className="number">{(100 * noise).toFixed(1)} %</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
