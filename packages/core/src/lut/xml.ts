import { SaxesParser } from 'saxes';
import { ColourFileError, type Place } from '../config/place.ts';

/** An XML element: local name (no prefix), attributes, children in order, and its own text. */
export interface Element {
  readonly name: string;
  readonly attributes: Readonly<Record<string, string>>;
  readonly children: readonly Element[];
  readonly text: string;
  readonly place: Place;
}

interface Growing {
  name: string;
  attributes: Record<string, string>;
  children: Growing[];
  text: string;
  place: Place;
}

const deepest = 64;

/** Parses XML 1.0. Throws a ColourFileError with the line of the first fault. Entities beyond the five built-in ones are faults. */
export function parseXml(bytes: Uint8Array, file: string): Element {
  const parser = new SaxesParser({ fileName: file, position: true });
  const stack: Growing[] = [];
  let root: Growing | undefined;
  const here = (): Place => ({ file, line: parser.line, column: parser.column });
  parser.on('error', (e) => {
    const said = e.message.replace(/^.*?:\d+:\d+: /, '').replace(/\.$/, '');
    throw new ColourFileError(`${said}.`, here());
  });
  parser.on('opentag', (tag) => {
    const element: Growing = {
      name: local(tag.name),
      attributes: Object.fromEntries(
        Object.entries(tag.attributes as unknown as Record<string, string>).map(([k, v]) => [local(k), v]),
      ),
      children: [],
      text: '',
      place: here(),
    };
    if (stack.length >= deepest) throw new ColourFileError('elements are nested too deeply.', here());
    stack.at(-1)?.children.push(element);
    root ??= element;
    stack.push(element);
  });
  parser.on('closetag', () => void stack.pop());
  const addText = (text: string) => {
    const top = stack.at(-1);
    if (top) top.text += text;
  };
  parser.on('text', addText);
  parser.on('cdata', addText);
  parser.write(new TextDecoder('utf-8').decode(bytes)).close();
  if (!root) throw new ColourFileError('the file is empty.', { file, line: 1 });
  return root;
}

function local(name: string): string {
  return name.includes(':') ? name.slice(name.indexOf(':') + 1) : name;
}

/** The first child of a name, ignoring case. */
export function childOf(element: Element, name: string): Element | undefined {
  return element.children.find((c) => c.name.toLowerCase() === name.toLowerCase());
}

/** All numbers in an element's text. Throws with its place when a word is none. */
export function elementNumbers(element: Element, count?: number): number[] {
  const words = element.text
    .trim()
    .split(/\s+/)
    .filter((w) => w !== '');
  const out = new Array<number>(words.length);
  words.forEach((word, i) => {
    const value = /^[+-]?(nan|inf(inity)?)$/i.test(word) ? specialNumber(word) : Number(word);
    if (Number.isNaN(value) && !/nan/i.test(word))
      throw new ColourFileError(`<${element.name}>: "${word}" is not a number.`, element.place);
    out[i] = value;
  });
  if (count !== undefined && out.length !== count)
    throw new ColourFileError(`<${element.name}> needs ${count} numbers, not ${out.length}.`, element.place);
  return out;
}

function specialNumber(word: string): number {
  if (/nan/i.test(word)) return NaN;
  return word.startsWith('-') ? -Infinity : Infinity;
}
