import { stopBands } from '@june-haze/core';

/** The bands of false colour with their stops from 18 % grey. */
export function StopsLegend() {
  return (
    <div className="legend" aria-label="Bands in stops from 18 % grey">
      <span>Stops from grey</span>
      {stopBands.map(({ stops, colour }, i) => (
        <span key={stops} className="band narrow">
          <i style={{ background: `rgb(${colour.join()})` }} />
          <span className="number">
            {i === 0 ? '≤' : i === stopBands.length - 1 ? '≥' : ''}
            {stops > 0 ? '+' : stops < 0 ? '−' : ''}
            {Math.abs(stops)}
          </span>
        </span>
      ))}
    </div>
  );
}
