import { ColourFileError } from './place.ts';
import type { ConfigNode, MapNode } from './yamlTree.ts';

/** Reads the typed fields of a config's map; every fault names the field and its line. */
export class Fields {
  readonly node: MapNode;
  private readonly what: string;

  constructor(node: ConfigNode, what: string) {
    if (node.kind !== 'map') throw new ColourFileError(`${what} must be a list of "key: value" pairs.`, node.place);
    this.node = node;
    this.what = what;
  }

  get(key: string): ConfigNode | undefined {
    const node = this.node.entries.get(key);
    return node?.kind === 'scalar' && node.text === '' && node.tag === undefined && key !== 'looks' ? undefined : node;
  }

  /** Whether the key stands there at all, even with nothing after it. */
  has(key: string): boolean {
    return this.node.entries.has(key);
  }

  text(key: string): string | undefined {
    const node = this.get(key);
    if (!node) return undefined;
    if (node.kind !== 'scalar') throw this.fault(key, 'must be text', node);
    return node.text;
  }

  requiredText(key: string): string {
    const text = this.text(key);
    if (text === undefined) throw new ColourFileError(`${this.what} has no "${key}".`, this.node.place);
    return text;
  }

  /** One of a few words, ignoring case. */
  word<W extends string>(key: string, words: readonly W[], otherwise: W): W {
    const text = this.text(key);
    if (text === undefined) return otherwise;
    const found = words.find((w) => w.toLowerCase() === text.toLowerCase());
    if (!found) throw this.fault(key, `"${text}" is none of ${words.join(', ')}`, this.get(key)!);
    return found;
  }

  truth(key: string, otherwise: boolean): boolean {
    const text = this.text(key)?.toLowerCase();
    if (text === undefined) return otherwise;
    if (['true', 'yes', 'on', 'y'].includes(text)) return true;
    if (['false', 'no', 'off', 'n'].includes(text)) return false;
    throw this.fault(key, `"${text}" is neither true nor false`, this.get(key)!);
  }

  number(key: string): number | undefined {
    const node = this.get(key);
    if (!node) return undefined;
    if (node.kind !== 'scalar') throw this.fault(key, 'must be one number', node);
    return this.parse(key, node);
  }

  /** A list of numbers of one of these lengths; a single number counts as a list of one. */
  numbers(key: string, lengths?: readonly number[]): number[] | undefined {
    const node = this.get(key);
    if (!node) return undefined;
    if (node.kind === 'map') throw this.fault(key, 'must be a list of numbers', node);
    const out = (node.kind === 'list' ? node.items : [node]).map((n) => this.parse(key, n));
    if (lengths && !lengths.includes(out.length))
      throw this.fault(key, `has ${out.length} numbers where ${lengths.join(' or ')} are needed`, node);
    return out;
  }

  /** Texts of a list, or of one text separated by commas. */
  texts(key: string): string[] | undefined {
    const node = this.get(key);
    if (!node) return undefined;
    if (node.kind === 'list') {
      return node.items.map((n) => {
        if (n.kind !== 'scalar') throw this.fault(key, 'must be a list of words', n);
        return n.text;
      });
    }
    if (node.kind === 'scalar') return splitNames(node.text);
    throw this.fault(key, 'must be a list of words', node);
  }

  private parse(key: string, node: ConfigNode): number {
    const value = node.kind === 'scalar' ? parseNumber(node.text) : NaN;
    if (Number.isNaN(value))
      throw this.fault(key, `${node.kind === 'scalar' ? `"${node.text}"` : 'a list'} is not a number`, node);
    return value;
  }

  private fault(key: string, says: string, node: ConfigNode): ColourFileError {
    return new ColourFileError(`${this.what}: "${key}" ${says}.`, node.place);
  }
}

/** A finite number or an infinity as configs write it; NaN for anything else. */
export function parseNumber(text: string): number {
  const t = text.trim();
  if (/^[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?$/.test(t)) return Number(t);
  if (/^[+]?\.?inf(inity)?$/i.test(t)) return Infinity;
  if (/^-\.?inf(inity)?$/i.test(t)) return -Infinity;
  return NaN;
}

/** Names of a list written as one text: separated by commas, or by colons where there is no comma; quotes are honoured. */
export function splitNames(text: string): string[] {
  const separator = text.includes(',') ? ',' : ':';
  const out: string[] = [];
  let current = '';
  let quoted = false;
  for (const c of text) {
    if (c === '"') quoted = !quoted;
    else if (c === separator && !quoted) {
      out.push(current.trim());
      current = '';
    } else current += c;
  }
  out.push(current.trim());
  return out.filter((s) => s !== '');
}
