import {
  isAlias,
  isMap,
  isScalar,
  isSeq,
  LineCounter,
  parseDocument,
  type Document,
  type Node as YamlNode,
} from 'yaml';
import { ColourFileError, type Place } from './place.ts';

/** A YAML value with its tag (without `!<…>`) and place. Scalars stay text: configs type their own fields. */
export type ConfigNode = ScalarNode | ListNode | MapNode;
interface Common {
  readonly tag: string | undefined;
  readonly place: Place;
}
export interface ScalarNode extends Common {
  readonly kind: 'scalar';
  readonly text: string;
}
export interface ListNode extends Common {
  readonly kind: 'list';
  readonly items: readonly ConfigNode[];
}
export interface MapNode extends Common {
  readonly kind: 'map';
  readonly entries: ReadonlyMap<string, ConfigNode>;
  /** Keys that stand twice; the last counts. */
  readonly twice?: readonly string[];
}

/** More nodes than any real config has; aliases that multiply end here instead of filling the memory. */
const mostNodes = 300_000;

/** Parses YAML (1.2, failsafe schema: every scalar is text). Throws a ColourFileError with the line of the first fault. */
export function parseYaml(text: string, file: string): ConfigNode {
  const lines = new LineCounter();
  const document = parseDocument(text, {
    lineCounter: lines,
    schema: 'failsafe',
    uniqueKeys: false,
    stringKeys: true,
    logLevel: 'silent',
    prettyErrors: false,
  });
  const fault = document.errors[0];
  if (fault) {
    const at = lines.linePos(fault.pos[0]);
    throw new ColourFileError(fault.message, { file, line: at.line, column: at.col });
  }
  if (!document.contents) throw new ColourFileError('the file is empty.', { file, line: 1 });
  return new TreeBuilder(document, lines, file).build(document.contents);
}

class TreeBuilder {
  private nodes = 0;
  private readonly document: Document;
  private readonly lines: LineCounter;
  private readonly file: string;

  constructor(document: unknown, lines: LineCounter, file: string) {
    this.document = document as Document;
    this.lines = lines;
    this.file = file;
  }

  build(node: YamlNode | null, depth = 0): ConfigNode {
    const at = node?.range ? this.lines.linePos(node.range[0]) : { line: 0, col: 0 };
    const place = { file: this.file, line: at.line, column: at.col };
    if (++this.nodes > mostNodes || depth > 200)
      throw new ColourFileError('the file nests or repeats too much.', place);
    if (isAlias(node)) {
      const target = node.resolve(this.document);
      if (!target) throw new ColourFileError(`the anchor "${node.source}" does not exist.`, place);
      return this.build(target, depth + 1);
    }
    const tag = node?.tag?.replace(/^!<?|>$/g, '').replace(/^tag:yaml\.org,2002:.*/, '') || undefined;
    if (isMap(node)) {
      const entries = new Map<string, ConfigNode>();
      const twice: string[] = [];
      for (const pair of node.items) {
        const key = isScalar(pair.key) ? String(pair.key.value) : String(pair.key);
        if (entries.has(key)) twice.push(key);
        entries.set(key, this.build(pair.value as YamlNode | null, depth + 1));
      }
      return { kind: 'map', tag, place, entries, twice };
    }
    if (isSeq(node)) {
      return { kind: 'list', tag, place, items: node.items.map((n) => this.build(n as YamlNode, depth + 1)) };
    }
    return { kind: 'scalar', tag, place, text: isScalar(node) && node.value !== null ? String(node.value) : '' };
  }
}
