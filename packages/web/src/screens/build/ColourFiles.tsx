import { Button } from 'antd';
import {
  cdlOf,
  colourPart,
  colourPartSteps,
  writeCdl,
  type ColourPart,
  type LedgerDocument,
  type ShotColour,
} from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useContext } from 'react';
import { useShotColour } from '../../api/colour.ts';
import { saveText } from '../../api/saveText.ts';
import { WriteLut } from '../match/WriteLut.tsx';
import { FrameContext } from './keys/frameContext.ts';

/** The grades as a CDL, where they are one; a sentence where they cannot be made. */
function cdlFor(part: ColourPart, colour: ShotColour | undefined, working: string, frame: number) {
  if (!colour) return {};
  try {
    return { cdl: cdlOf(part, colourPartSteps(part, colour, working, frame), working) };
  } catch (error) {
    return { problem: (error as Error).message };
  }
}

/** The ledger's colour for other programs, as CDL or LUT, with what neither can hold. */
export function ColourFiles({ shot, document }: { readonly shot: Shot; readonly document: LedgerDocument }) {
  const { data: colour } = useShotColour(shot.colour);
  const { frame } = useContext(FrameContext);
  const part = colourPart(document, frame);
  const names = part.grades.map((e) => e.name).join(', ');
  const { workingSpace } = shot;
  const { cdl, problem } = cdlFor(part, colour, workingSpace, frame);
  return (
    <section aria-label="Colour for other programs" className="colour-files">
      <h3>Colour for other programs</h3>
      {part.grades.length ? (
        <p>{names}: the same for every pixel.</p>
      ) : (
        <p className="quiet">No grade of the whole total: nothing of this ledger is colour alone.</p>
      )}
      {problem && (
        <p role="alert" className="small">
          {problem}
        </p>
      )}
      {part.leftOut.length > 0 && (
        <details>
          <summary>
            What a LUT or a CDL cannot hold: {part.leftOut.length} {part.leftOut.length === 1 ? 'row' : 'rows'}
          </summary>
          {part.leftOut.map(({ name, why }, i) => (
            <p key={i} className="small">
              {name}: {why}.
            </p>
          ))}
        </details>
      )}
      {part.grades.length > 0 && (
        <div className="beside">
          <Button
            size="small"
            disabled={!cdl}
            title={
              cdl
                ? 'Slope, offset, power and saturation'
                : 'These grades are more than slope, offset, power and saturation'
            }
            onClick={() =>
              cdl && saveText(`${shot.name} ledger.cc`, writeCdl(`${shot.name} ledger`, cdl, workingSpace))
            }
          >
            Save as CDL
          </Button>
          <WriteLut
            title="Write as a LUT"
            path={`/shots/${shot.id}/ledger-file`}
            more={{ frame }}
            atFirst={{ space: 'ACEScct', size: 33, kind: 'cube' }}
            colour={colour}
          >
            {names}, from numbers of a space to numbers of it. Nothing that looks at places or neighbours is in it.
          </WriteLut>
        </div>
      )}
    </section>
  );
}
