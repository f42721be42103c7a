import type { ConfigDocument, FileRule } from './document.ts';

export interface RuleMatch {
  readonly space: string;
  /** The space as the rule names it: it can be a role or an alias. */
  readonly written: string;
  readonly rule: string;
}

/** Characters of a glob as a regular expression: `*`, `?`, `[…]`, `[!…]`; everything else stands for itself. */
function globExpression(glob: string): string {
  let out = '';
  for (let i = 0; i < glob.length; i++) {
    const c = glob[i]!;
    const end = c === '[' ? glob.indexOf(']', i + 2) : -1;
    if (c === '*') out += '.*';
    else if (c === '?') out += '.';
    else if (end > 0) {
      const inside = glob.slice(i + 1, end).replaceAll('\\', '\\\\');
      out += `[${inside.startsWith('!') ? `^${inside.slice(1)}` : inside}]`;
      i = end;
    } else out += c.replace(/[.+^${}()|[\]\\]/g, '\\$&');
  }
  return out;
}

/** An extension in plain letters minds no case (as the reference has it); one with wild cards does. */
function extensionExpression(extension: string): string {
  if (/[*?[]/.test(extension)) return globExpression(extension);
  return extension
    .replace(/[a-z]/gi, (c) => `[${c.toLowerCase()}${c.toUpperCase()}]`)
    .replace(/[.+^${}()|\\]/g, '\\$&');
}

/** Finds the space whose name or alias stands last in a path; the longer name wins where two end together. */
function spaceInPath(document: ConfigDocument, path: string): string | undefined {
  const text = path.toLowerCase();
  let best: { name: string; end: number; length: number } | undefined;
  for (const space of document.spaces) {
    for (const name of [space.name, ...space.aliases]) {
      const at = text.lastIndexOf(name.toLowerCase());
      if (at < 0 || name === '') continue;
      const end = at + name.length;
      if (!best || end > best.end || (end === best.end && name.length > best.length))
        best = { name: space.name, end, length: name.length };
    }
  }
  return best?.name;
}

/** The space that a config's rules give a file, and the rule that did. Extensions mind case; space names in paths do not. */
export function applyFileRules(document: ConfigDocument, path: string): Omit<RuleMatch, 'space'> | undefined {
  const rules = document.fileRules ?? [];
  for (const rule of rules) {
    const space = matchRule(document, rule, path);
    if (space !== undefined) return { written: space, rule: rule.name };
  }
  // Version 1 configs have no rules: names in paths count, then the default role.
  const named = document.majorVersion < 2 && !document.fileRules ? spaceInPath(document, path) : undefined;
  if (named !== undefined) return { written: named, rule: 'ColorSpaceNamePathSearch' };
  return document.roles.has('default') ? { written: 'default', rule: 'Default' } : undefined;
}

function matchRule(document: ConfigDocument, rule: FileRule, path: string): string | undefined {
  if (rule.name.toLowerCase() === 'colorspacenamepathsearch') return spaceInPath(document, path);
  if (rule.name.toLowerCase() === 'default') return rule.space;
  try {
    if (rule.regex !== undefined) return new RegExp(rule.regex).test(path) ? rule.space : undefined;
    const pattern = globExpression(rule.pattern ?? '*');
    const extension = extensionExpression(rule.extension ?? '*');
    return new RegExp(`^${pattern}\\.${extension}$`).test(path) ? rule.space : undefined;
  } catch {
    return undefined;
  }
}
