import { codeBands, deltaEBands } from '@june-haze/core';

/** The bands of a heat map with their figures. */
export function HeatLegend({ of }: { of: 'codes' | 'deltaE' }) {
  const bands = of === 'codes' ? codeBands : deltaEBands;
  return (
    <div className="legend" aria-label={of === 'codes' ? 'Bands in code values' : 'Bands of CIEDE2000'}>
      <span>{of === 'codes' ? 'Code values' : 'CIEDE2000'}</span>
      {bands.map(({ from, colour }, i) => (
        <span key={from} className="band">
          <i style={{ background: `rgb(${colour.join()})` }} />
          <span className="number">
            {from}
            {i === bands.length - 1 ? ' and more' : ''}
          </span>
        </span>
      ))}
    </div>
  );
}
