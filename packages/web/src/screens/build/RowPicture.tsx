import { documentOf, type Entry, type LedgerDocument, type Subject } from '@june-haze/core';
import { useCallback, useContext, useEffect, useRef, useState } from 'react';
import { useReturn } from '../../api/outage.ts';
import { SamplingContext } from './mattes/samples.ts';

/** So long a row rests before its small picture is made anew. */
const restMilliseconds = 400;
/** Until a first picture is there, it is asked again. */
const againMilliseconds = 900;

interface Props {
  entry: Entry;
  document: LedgerDocument;
  /** Changes whenever the picture may be another though the row is not: the viewing, the files. */
  stamp: string;
}

/** What a row's small picture shows: the row with its adjustments and its matte; of a finish, the total with it. */
const subjectOf = ({ kind, id }: Entry): Subject => ({ kind: kind === 'finish' ? 'through' : 'row', entry: id });

/** A row's own small picture, as it is now. */
export function RowPicture({ entry, document, stamp }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { take, frame } = useContext(SamplingContext);
  const [failed, setFailed] = useState(false);
  const [turn, setTurn] = useState(0);
  useReturn(useCallback(() => setTurn((n) => n + 1), []));
  const latest = useRef({ entry, document });
  useEffect(() => {
    latest.current = { entry, document };
  });
  // By value: what other rows do changes nothing of this one, but of a finish those above it do.
  const { entries, mattes, alphaFrom } = documentOf(document, subjectOf(entry));
  const own = JSON.stringify([entries, entry.matte || entry.kind !== 'pass' ? mattes : null, alphaFrom, stamp]);
  useEffect(() => {
    let due: ReturnType<typeof setTimeout> | undefined;
    let gone = false;
    const make = async () => {
      const made = await take(subjectOf(latest.current.entry), latest.current.document, true).catch(() => null);
      const context = canvas.current?.getContext('2d');
      if (gone || !context) return;
      setFailed(made === null);
      if (made === undefined) due = setTimeout(() => void make(), againMilliseconds);
      if (!made?.rgba) return;
      [context.canvas.width, context.canvas.height] = [made.width, made.height];
      context.putImageData(new ImageData(made.rgba, made.width, made.height), 0, 0);
    };
    due = setTimeout(() => void make(), restMilliseconds);
    return () => {
      gone = true;
      clearTimeout(due);
    };
  }, [own, frame, take, turn]);
  return <canvas ref={canvas} className="thumb" hidden={failed} aria-hidden />;
}
