import { openVariables, resolveVariables, type Context } from './context.ts';
import type { ConfigDisplay, ConfigDocument, ConfigNamedTransform, ConfigSpace, ConfigView } from './document.ts';
import { applyFileRules, type RuleMatch } from './fileRules.ts';
import { ColourFileError, type Place } from './place.ts';

export const sameName = (a: string, b: string): boolean => a.toLowerCase() === b.toLowerCase();

/** Fields of a config that may hold variables. */
const variableFields = new Set(['searchPaths', 'source', 'correction', 'from', 'to', 'looks', 'display', 'view']);

/** All texts of such fields, joined. */
function textsOf(value: unknown, wanted = false): string {
  if (typeof value === 'string') return wanted ? `${value}\n` : '';
  if (Array.isArray(value)) return value.map((v) => textsOf(v, wanted)).join('');
  if (value === null || typeof value !== 'object' || ArrayBuffer.isView(value)) return '';
  return Object.entries(value)
    .map(([k, v]) => textsOf(v, variableFields.has(k)))
    .join('');
}

/** What a config names, looked up ignoring case; and what of it is offered. */
export class ConfigNames {
  readonly document: ConfigDocument;
  protected readonly context: Context;

  /** `context` gives values to the config's variables, above its own defaults. */
  constructor(document: ConfigDocument, context: Context = new Map()) {
    this.document = document;
    this.context = new Map([...(document.environment ?? []), ...context]);
  }

  /** The config's variables with the values in force: those it declares, or, when it declares none, those that its files and names hold. */
  variables(): { name: string; value: string | undefined; declared: boolean }[] {
    const { environment } = this.document;
    const declared = environment !== undefined;
    const names = environment ? [...environment.keys()] : [...new Set(openVariables(textsOf(this.document)))];
    return names.map((name) => ({ name, value: this.context.get(name), declared }));
  }

  /** A space by name, alias or role, ignoring case; variables in the name are resolved. */
  findSpace(name: string): ConfigSpace | undefined {
    const wanted = resolveVariables(name, this.context);
    const { spaces, roles } = this.document;
    const byName =
      spaces.find((s) => sameName(s.name, wanted)) ?? spaces.find((s) => s.aliases.some((a) => sameName(a, wanted)));
    if (byName) return byName;
    for (const [role, target] of roles) {
      if (sameName(role, wanted) && !sameName(target, wanted))
        return spaces.find((s) => sameName(s.name, target) || s.aliases.some((a) => sameName(a, target)));
    }
    return undefined;
  }

  requireSpace(name: string, place?: Place): ConfigSpace {
    const found = this.findSpace(name);
    if (!found)
      throw this.unknown(
        'colour space',
        name,
        this.document.spaces.map((s) => s.name),
        place,
      );
    return found;
  }

  /** A named transform by name or alias. */
  findNamed(name: string): ConfigNamedTransform | undefined {
    return this.document.namedTransforms.find(
      (n) => sameName(n.name, name) || n.aliases.some((a) => sameName(a, name)),
    );
  }

  requireDisplay(name: string, place?: Place): ConfigDisplay {
    const found = this.document.displays.find((d) => sameName(d.name, name));
    if (!found)
      throw this.unknown(
        'display',
        name,
        this.document.displays.map((d) => d.name),
        place,
      );
    return found;
  }

  requireView(display: ConfigDisplay, name: string, place?: Place): ConfigView {
    const found = display.views.find((v) => sameName(v.name, name));
    if (!found)
      throw this.unknown(
        `view of display "${display.name}"`,
        name,
        display.views.map((v) => v.name),
        place,
      );
    return found;
  }

  protected unknown(what: string, name: string, known: readonly string[], place?: Place): ColourFileError {
    const some = known.slice(0, 12).join(', ') + (known.length > 12 ? ', …' : '');
    const at = place ?? { file: this.document.file, line: 0 };
    return new ColourFileError(
      `there is no ${what} named "${name}"; the config has ${some || 'none'}.`,
      at,
      'missing-name',
    );
  }

  /** Displays and views that the config offers: its active ones, in the order of the active lists. */
  activeDisplays(): ConfigDisplay[] {
    const { displays, activeDisplays, activeViews } = this.document;
    const pick = <T extends { name: string }>(all: readonly T[], names: readonly string[]): T[] => {
      const chosen = names.flatMap((n) => all.filter((x) => sameName(x.name, n)));
      return chosen.length > 0 ? chosen : [...all];
    };
    return pick(displays, activeDisplays).map((d) => ({ name: d.name, views: pick(d.views, activeViews) }));
  }

  /** Spaces that the config offers: all but the inactive ones. */
  activeSpaces(): ConfigSpace[] {
    return this.document.spaces.filter((s) => !this.isInactive(s));
  }

  /** Named transforms that the config offers. */
  activeNamedTransforms(): ConfigNamedTransform[] {
    return this.document.namedTransforms.filter((n) => !this.isInactive(n));
  }

  private isInactive(item: { name: string; aliases: readonly string[] }): boolean {
    return this.document.inactiveSpaces.some((n) => sameName(n, item.name) || item.aliases.some((a) => sameName(a, n)));
  }

  /** The views of a display that fit a space, by the config's viewing rules; views without a rule always do. */
  viewsFor(display: ConfigDisplay, space: ConfigSpace): ConfigView[] {
    return display.views.filter((view) => {
      const rule = view.rule && this.document.viewingRules.find((r) => sameName(r.name, view.rule!));
      if (!rule) return true;
      return (
        rule.spaces.some((s) => this.findSpace(s) === space) || rule.encodings.some((e) => sameName(e, space.encoding))
      );
    });
  }

  /** The space that the config's file rules give a file name. */
  ruleFor(path: string): RuleMatch | undefined {
    const match = applyFileRules(this.document, path);
    return match && { ...match, space: this.findSpace(match.written)?.name ?? match.written };
  }
}
