import { fieldsAcross, fieldsDown, type LeftOver } from '@june-haze/core';

/** A field is as dark as it gets from so many codes on; its number stays readable on it. */
const darkest = 8;
/** Less than this is rounding. */
const least = 0.15;

/** Where the difference lies: the picture in fields, each with its mean difference. */
export function LeftOverFields({ leftOver }: { leftOver: LeftOver }) {
  return (
    <div
      className="fields"
      role="img"
      aria-label={`Where they differ, in ${fieldsAcross} by ${fieldsDown} fields; the largest mean difference is ${Math.max(...leftOver.fields.map(Math.abs)).toFixed(1)} codes`}
      style={{ gridTemplateColumns: `repeat(${fieldsAcross}, 1fr)` }}
    >
      {leftOver.fields.map((mean, i) => (
        <span
          key={i}
          className="number"
          style={{
            background: `color-mix(in srgb, var(--ochre-ground) ${Math.min(100, (100 * Math.abs(mean)) / darkest)}%, var(--paper))`,
          }}
        >
          {Math.abs(mean) < least ? '0' : mean.toFixed(Math.abs(mean) < 9.95 ? 1 : 0)}
        </span>
      ))}
    </div>
  );
}
