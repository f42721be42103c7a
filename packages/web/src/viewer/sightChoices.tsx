import { walkEntries, type LedgerDocument, type ShotColour } from '@june-haze/core';
import type { Shot, Source } from '@june-haze/contract';
import { thumbnailUrl } from '../api/thumbnail.ts';
import type { Choice } from '../picker/Picker.tsx';
import { SmallPicture } from '../pictures/SmallPicture.tsx';
import { beautyOf, nameOf, writtenRun, type SightChoice } from './sights.ts';

interface ChoicesOf {
  readonly shot: Shot;
  readonly document: LedgerDocument;
  readonly colour: ShotColour | undefined;
  readonly frame: number;
  /** What is looked at: other frames, viewings and spaces are of it. */
  readonly first: SightChoice;
}

/** All that can be looked at or compared with, in groups; a choice's key is what it is, as JSON. */
export function sightChoices({ shot, document, colour, frame, first }: ChoicesOf): Choice[] {
  const place = { shot, document };
  const choice = (group: string, of: SightChoice, more: Partial<Choice> = {}): Choice => ({
    key: JSON.stringify(of),
    group,
    label: nameOf(of, place),
    ...more,
  });
  const rows = [...walkEntries(document.entries)];
  const rowsOf = rows.flatMap((e) => [
    ...(e.kind === 'finish' ? [] : [choice('Rows of the ledger', { of: { kind: 'row', entry: e.id } })]),
    choice('Rows of the ledger', { of: { kind: 'above', entry: e.id } }),
    choice('Rows of the ledger', { of: { kind: 'without', entry: e.id } }),
    ...(e.matte ? [choice('Rows of the ledger', { of: { kind: 'matte', entry: e.id } })] : []),
  ]);
  const pictures = shot.sources.map((s) =>
    s.reading.use === 'reference'
      ? choice(
          'References',
          { of: { kind: 'reference', sourceId: s.id } },
          { picture: thumbnail(shot, s, beautyOf(s), frame) },
        )
      : undefined,
  );
  const passes = shot.sources.flatMap((s) =>
    s.reading.use === 'reference'
      ? []
      : s.passes.map((p) =>
          choice(
            `Passes of ${s.name}`,
            { of: { kind: 'pass', sourceId: s.id, pass: p.name } },
            { label: p.name, note: p.role, picture: thumbnail(shot, s, p.name, frame) },
          ),
        ),
  );
  const outputs = shot.outputs
    .filter((o) => writtenRun(shot, o.id))
    .map((o) => choice('Files of outputs', { of: { kind: 'output', outputId: o.id } }));
  const frames = [-10, -1, 1, 10].map((later) => choice('The same of another frame', { ...first, later }));
  const views = (colour?.displays(shot.workingSpace) ?? []).flatMap(({ name: display, views: of }) =>
    of
      .filter((view) => display !== shot.viewing.display || view !== shot.viewing.view)
      .map((view) =>
        choice(
          'The same through another view',
          { ...first, viewing: { display, view } },
          { label: view, note: display },
        ),
      ),
  );
  const spaces = sourceOf(first, shot).flatMap((s) =>
    [...new Set([null, 'Linear Rec.709', 'ACEScg', 'ACES2065-1', 'sRGB', 'Rec.709', ...spacesOf(shot)])]
      .filter((space) => space !== s.declaredSpace)
      .map((space) =>
        choice(
          `${s.name} declared otherwise`,
          { ...first, spaces: { [s.id]: space } },
          { label: space ?? 'as it is', note: space === null ? 'its numbers taken for the working space’s' : s.name },
        ),
      ),
  );
  return [
    choice('The ledger', { of: { kind: 'total' } }),
    choice('The ledger', { of: { kind: 'start' } }),
    ...pictures.filter((p) => p !== undefined),
    ...outputs,
    ...rowsOf,
    ...passes,
    ...frames,
    ...views,
    ...spaces,
  ];
}

const spacesOf = (shot: Shot) => shot.sources.flatMap((s) => s.declaredSpace ?? []);

/** The sources whose declared spaces matter to what is looked at. */
const sourceOf = ({ of }: SightChoice, shot: Shot): readonly Source[] =>
  of.kind === 'pass'
    ? shot.sources.filter((s) => s.id === of.sourceId)
    : shot.sources.filter((s) => s.reading.use === 'plate');

const thumbnail = (shot: Shot, source: Source, pass: string, frame: number) => (
  <SmallPicture
    src={thumbnailUrl(source, pass, source.still ? source.firstFrame : frame, 128, {
      viewing: shot.viewing,
      untouched: source.reading.use === 'reference',
    })}
  />
);
