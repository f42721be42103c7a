import { saturationNames, type LeftOver } from '@june-haze/core';

/** Colours with a smaller share of the picture say nothing. */
const leastShare = 0.0005;

/** How far greys, pale, strong and pure colours lie off: a look that adds colour shows here. */
export function LeftOverSaturations({ leftOver: { saturations } }: { leftOver: LeftOver }) {
  if (!saturations.length) return null;
  return (
    <dl className="saturations" aria-label="What is left over by saturation, mean codes">
      {saturationNames.map((name, i) => {
        const { mean, share } = saturations[i]!;
        return (
          <div key={name}>
            <dt className="quiet">{name}</dt>
            <dd className="number">{share < leastShare ? '–' : mean.toFixed(2)}</dd>
          </div>
        );
      })}
    </dl>
  );
}
