import { Button, Input } from 'antd';
import {
  documentOf,
  findMatte,
  freeMatteName,
  histogramOf,
  measuresOf,
  removeMatte,
  renameMatte,
  subjectOfMatte,
  usesOfMatte,
  valuesAt,
  type LedgerDocument,
  type Matte,
  type Parameter,
  type Subject,
} from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useContext, useMemo } from 'react';
import { useShotColour } from '../../../api/colour.ts';
import { ParameterRows } from '../ParameterRows.tsx';
import { ShapedHistogram } from '../ShapedHistogram.tsx';
import { MattePicture } from './MattePicture.tsx';
import { SamplingContext, useSampled } from './samples.ts';
import { useShape } from './useShape.ts';

const bins = 96;

interface Props {
  shot: Shot;
  document: LedgerDocument;
  name: string;
  onOpen: (name: string | undefined) => void;
  onDraft: (document: LedgerDocument) => void;
  onSave: (document: LedgerDocument, words: string) => void;
}

/** A matte opened: its picture, what it selects by as a histogram, its parameters, its name, who uses it. */
export function MattePanel({ shot, document, name, onOpen, onDraft, onSave }: Props) {
  const stored = document.mattes![name]!;
  const definition = findMatte(stored.kind);
  const { sample, problem } = useSampled({ kind: 'named matte', name }, document);
  const uses = usesOfMatte(document, name);
  const changed = (change: object): LedgerDocument => ({
    ...document,
    version: 2,
    mattes: { ...document.mattes, [name]: { ...stored, ...change } as Matte },
  });
  const keep = (change: object, words: string) => onSave(changed(change), words);
  useShape(name, stored, (change) => onDraft(changed(change)), keep);
  return (
    <section className="matte-panel" aria-label={`Matte ${name}`}>
      <div className="beside">
        <Input
          size="small"
          aria-label="Name of the matte"
          defaultValue={name}
          key={name}
          style={{ flex: 'none', width: 140 }}
          onPressEnter={(e) => e.currentTarget.blur()}
          onBlur={(e) => {
            const next = e.target.value.trim();
            if (!next || next === name) return;
            const free = freeMatteName(document, next);
            onSave(renameMatte(document, name, free), `renamed matte ${name}`);
            onOpen(free);
          }}
        />
        <span className="quiet small clip" title={uses.join(', ')}>
          {definition?.title ?? stored.kind} · {uses.length ? `used by ${uses.join(', ')}` : 'not used yet'}
        </span>
        <span className="grow" />
        <Button
          size="small"
          onClick={() => {
            const inverse = freeMatteName(document, `not ${name}`);
            const mattes = { ...document.mattes, [inverse]: { kind: 'invert', of: name } as Matte };
            onSave({ ...document, version: 2, mattes }, `inverted matte ${name}`);
            onOpen(inverse);
          }}
        >
          Invert
        </Button>
        <Button
          size="small"
          onClick={() => {
            onOpen(undefined);
            onSave(removeMatte(document, name), `removed matte ${name}`);
          }}
        >
          Remove
        </Button>
        <Button size="small" aria-label="Close the matte" onClick={() => onOpen(undefined)}>
          Close
        </Button>
      </div>
      {problem && (
        <p className="small" role="alert">
          {problem}
        </p>
      )}
      <div className="matte-looks">
        <MattePicture sample={sample} label={`Picture of the matte ${name}`} />
        <Measure {...{ shot, document, name, stored }} onDraft={(c) => onDraft(changed(c))} onSave={keep} />
      </div>
      {definition && (
        <ParameterRows
          shot={shot}
          of={`Matte ${name}`}
          table={definition.parameters}
          values={stored as unknown as Record<string, unknown>}
          mattes={Object.keys(document.mattes ?? {}).filter((n) => n !== name)}
          onDraft={(change) => onDraft(changed(change))}
          onSave={keep}
        />
      )}
    </section>
  );
}

interface MeasureProps extends Pick<Props, 'shot' | 'document' | 'name'> {
  stored: Matte;
  onDraft: (change: object) => void;
  onSave: (change: object, words: string) => void;
}

/** What the matte selects by: the pass that it reads, or the brightness or hue of what it is used on. */
function Measure({ shot, document, name, stored, onDraft, onSave }: MeasureProps) {
  const definition = findMatte(stored.kind);
  const measure = definition?.measure;
  const { frame } = useContext(SamplingContext);
  const { data: colour } = useShotColour(shot.colour);
  const { of, before } = measured(document, name, stored, measure?.of === 'pass');
  const { sample } = useSampled(measure && of, before);
  const values = useMemo(
    () => definition && (valuesAt(definition.parameters, stored, frame) as Readonly<Record<string, unknown>>),
    [definition, stored, frame],
  );
  const shape = useMemo(() => (measure && values ? measure.shape(values as never) : []), [measure, values]);
  const measures = useMemo(
    () => sample && measure && colour && measuresOf(measure.of, sample.planes, colour.luminance(shot.workingSpace)),
    [sample, measure, colour, shot.workingSpace],
  );
  if (!measure || !values) return null;
  if (!measures) return <span className="quiet small">no histogram yet</span>;
  const shown = shape.map(([v]) => v);
  const histogram = histogramOf(measures, measure.scale, shown, bins);
  const ends = measure.ends.map((key) => ({
    key,
    title: (definition.parameters as Readonly<Record<string, Parameter>>)[key]!.title,
    value: values[key] as number,
  }));
  return <ShapedHistogram {...{ histogram, shape, ends, onDraft, onSave }} />;
}

/** What is sampled for a matte's histogram, of which ledger: what it is used on, without the matte itself. */
function measured(
  document: LedgerDocument,
  name: string,
  stored: Matte,
  ofPass: boolean,
): { of: Subject; before: LedgerDocument } {
  const { source = '', pass = '' } = stored as { source?: string; pass?: string };
  if (ofPass) return { of: { kind: 'pass', sourceId: source, pass }, before: document };
  const row = subjectOfMatte(document, name);
  if (!row) return { of: { kind: 'total' }, before: document };
  if (row.kind === 'finish') return { of: { kind: 'above', entry: row.id }, before: document };
  const plain = { ...row, matte: null, mix: 1 };
  return {
    of: { kind: 'row', entry: row.id },
    before: { ...documentOf(document, { kind: 'total' }), entries: [plain] },
  };
}
