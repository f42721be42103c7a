import { conversion as builtinConversion, exposureStep } from '../colour/conversion.ts';
import { invertSteps } from '../colour/invert.ts';
import { levelled } from '../colour/levels.ts';
import type { Matrix3, Vector3 } from '../colour/matrix.ts';
import { ap0, luminanceWeights, primariesMatrix } from '../colour/primaries.ts';
import { colourSpaces, findSpace, requireSpace, UnknownNameError, type ColourSpace } from '../colour/spaces.ts';
import type { CodeEncoding } from '../colour/displayCodes.ts';
import { encodingInWords } from './encodingInWords.ts';
import { isLinearMap, mergeSteps } from '../colour/merge.ts';
import type { ColourStep } from '../colour/steps.ts';
import { displays as builtinDisplays, viewSteps, type ViewChoice } from '../colour/views.ts';
import type { BakedLook } from './looks.ts';
import { findLutView, isLutDisplay, lutDisplay, lutViewSteps, undoneLutView, type LutView } from './lutViews.ts';
import { selfContainedSteps } from '../transform/fileSteps.ts';
import type { Transform } from '../transform/transform.ts';
import type { ColourConfig } from './colourConfig.ts';
import type { ConfigSpace } from './document.ts';

/** What a person sees of a space when choosing one. */
export interface SpaceFacts {
  readonly name: string;
  readonly aliases: readonly string[];
  readonly family: string;
  readonly isData: boolean;
  /** Can be a working space. */
  readonly linear: boolean;
  readonly about: string;
  readonly origin: 'config' | 'builtin' | 'library';
}

/** A technical LUT as a space: its numbers become numbers of `to` through it. */
export interface LutSpace {
  readonly name: string;
  readonly to: string;
  readonly transform: Transform;
}

/**
 * Light beyond this is shown as this: infinities, and what powers would make infinite, would meet in a matrix as no number, and a view
 * would show the brightest of all as black. Twenty stops above 1, sixteen times what half float holds: no view tells it from less.
 */
const brightest: ColourStep = { kind: 'clamp', low: -(2 ** 20), high: 2 ** 20 };

const undoneForm = /^(.+) \/ (.+), undone$/;

/** The name of the space that a picture saved through a view is in: its codes, which the view's inverse takes back to light. */
export const undoneName = (display: string, view: string): string => `${display} / ${view}, undone`;

/** The display of such a name; undefined for names of other spaces. */
export const undoneDisplay = (name: string): string | undefined => undoneForm.exec(name)?.[1];

export interface LookFacts {
  readonly name: string;
  readonly about: string;
  readonly processSpace: string;
}

/**
 * The colours of a shot: a config's spaces, displays, views and looks where it has one, the built-in spaces beside them. A name means the config's
 * item when the config knows it. Built-in spaces reach the config's through ACES2065-1 (the config's `aces_interchange` role,
 * or a space of that name); without it only one side can be used.
 */
export class ShotColour {
  readonly config: ColourConfig | undefined;
  private readonly lookFiles: ReadonlyMap<string, Transform>;
  private readonly lutSpaces: readonly LutSpace[];
  private readonly lutViews: readonly LutView[];
  private readonly cache = new Map<string, ColourStep[]>();

  /** `lookFiles`: LUTs and CDLs of the Library by id, for viewing looks; `lutSpaces`: its technical LUTs; `lutViews`: its show LUTs. */
  constructor(
    config?: ColourConfig,
    lookFiles: ReadonlyMap<string, Transform> = new Map(),
    lutSpaces: readonly LutSpace[] = [],
    lutViews: readonly LutView[] = [],
  ) {
    this.config = config;
    this.lookFiles = lookFiles;
    this.lutSpaces = lutSpaces;
    this.lutViews = lutViews;
  }

  /** The show LUT that a display and view mean; undefined for others. Throws an UnknownNameError where it is no longer there. */
  private lutView({ display, view }: { display: string; view: string }): LutView | undefined {
    if (!isLutDisplay(display)) return undefined;
    const found = findLutView(this.lutViews, view);
    if (found) return found;
    throw new UnknownNameError(
      'show LUT',
      view,
      this.lutViews.map((v) => v.name),
    );
  }

  private lutSpace(name: string): LutSpace | undefined {
    return this.lutSpaces.find((s) => s.name.toLowerCase() === name.toLowerCase());
  }

  /** Every space that can be declared: the config's active ones, then built-in ones of other names. */
  spaces(): SpaceFacts[] {
    const { config } = this;
    const own = config ? config.activeSpaces().map((s) => configFacts(config, s)) : [];
    const known = (s: ColourSpace) => config?.findSpace(s.name) !== undefined;
    const builtin = !config || this.interchange() ? colourSpaces.filter((s) => !known(s)) : [];
    const tables = this.lutSpaces.map(({ name, to }): SpaceFacts => ({
      name,
      aliases: [],
      family: 'Library',
      isData: false,
      linear: false,
      about: `A LUT of the Library turns its numbers into ${to}`,
      origin: 'library',
    }));
    return [...own, ...builtin.map(builtinFacts), ...tables];
  }

  /** Spaces of pictures that were saved through a view: declared, the view is undone. */
  undoneViews(): SpaceFacts[] {
    return this.displays().flatMap(({ name: display, views }) =>
      views.map((view): SpaceFacts => ({
        name: undoneName(display, view),
        aliases: [],
        family: 'View undone',
        isData: false,
        linear: false,
        about: 'A picture saved through this view: its codes are taken back to light; what the view cut off is gone',
        origin: this.config ? 'config' : 'builtin',
      })),
    );
  }

  /** Displays and their views, show LUTs last; with a space given, only views that the config's viewing rules offer for it. */
  displays(space?: string): { name: string; views: readonly string[] }[] {
    const shown = this.lutViews.length ? [{ name: lutDisplay, views: this.lutViews.map((v) => v.name) }] : [];
    const { config } = this;
    if (!config) return [...builtinDisplays.map(({ name, views }) => ({ name, views })), ...shown];
    const from = space === undefined ? undefined : config.findSpace(space);
    const own = config.activeDisplays().map((d) => ({
      name: d.name,
      views: (from ? config.viewsFor(d, from) : d.views).map((v) => v.name),
    }));
    return [...own, ...shown];
  }

  looks(): LookFacts[] {
    return (this.config?.document.looks ?? []).map((l) => ({
      name: l.name,
      about: l.description,
      processSpace: l.processSpace,
    }));
  }

  /** Whether a name is a space here. */
  knows(name: string): boolean {
    if (this.lutSpace(name) || this.undone(name)) return true;
    return this.config?.findSpace(name) !== undefined || (this.reachesBuiltin() && findSpace(name) !== undefined);
  }

  /** Why a space cannot be a working space, or undefined when it can. Throws for a name that is none. */
  whyNotWorking(name: string): string | undefined {
    if (this.lutSpace(name)) return `${name} is a LUT’s space: light can only be summed in a linear working space.`;
    if (this.undone(name)) return `${name} is a picture’s codes: light can only be summed in a linear working space.`;
    const own = this.config?.findSpace(name);
    if (own?.reference === 'display') return `${name} is light of a display: a working space holds light of the scene.`;
    const linear = own ? this.config!.isLinear(own) : this.requireBuiltin(name).encoding === 'linear';
    return linear ? undefined : `${name} is not linear: light can only be summed in a linear working space.`;
  }

  private reachesBuiltin(): boolean {
    return !this.config || this.interchange() !== undefined;
  }

  /** The config's name for ACES2065-1. */
  private interchange(): string | undefined {
    const names = ['aces_interchange', 'ACES2065-1', 'lin_ap0', 'lin_ap0_scene', 'ACES - ACES2065-1'];
    for (const name of names) {
      const found = this.config?.findSpace(name);
      if (found) return found.name;
    }
    return undefined;
  }

  private requireBuiltin(name: string): ColourSpace {
    if (this.config && !this.reachesBuiltin()) this.config.requireSpace(name);
    const found = findSpace(name);
    if (found) return found;
    if (!this.config) return requireSpace(name);
    throw new UnknownNameError(
      'colour space',
      name,
      this.spaces().map((s) => s.name),
    );
  }

  /** Steps from one space to another, of the config or built-in. Throws a named error when there is no way. */
  conversion(from: string, to: string): ColourStep[] {
    return this.cached(`${from}\n${to}`, () => {
      const { config } = this;
      const undone = this.undone(from);
      if (undone) return this.undoneSteps(undone, to);
      const [tableFrom, tableTo] = [this.lutSpace(from), this.lutSpace(to)];
      if (tableFrom)
        return mergeSteps([...selfContainedSteps(tableFrom.transform), ...this.conversion(tableFrom.to, to)]);
      if (tableTo)
        return mergeSteps([...this.conversion(from, tableTo.to), ...selfContainedSteps(tableTo.transform, 'inverse')]);
      const [ownFrom, ownTo] = [config?.findSpace(from), config?.findSpace(to)];
      if (config && ownFrom && ownTo) return config.conversion(from, to);
      if (!ownFrom && !ownTo) return builtinConversion(this.requireBuiltin(from), this.requireBuiltin(to));
      const other = this.requireBuiltin(ownFrom ? to : from);
      if ((ownFrom ?? ownTo)!.isData || other.encoding === 'data') return [];
      const aces = requireSpace('ACES2065-1');
      const middle = this.interchange()!;
      return mergeSteps(
        ownFrom
          ? [...config!.conversion(from, middle), ...builtinConversion(aces, other)]
          : [...builtinConversion(other, aces), ...config!.conversion(middle, to)],
      );
    });
  }

  /** Steps from linear light of a working space to display codes, through exposure, look, view, levels and gamma; the last step but the gamma clamps to 0 … 1. */
  view(working: string, choice: ViewChoice): ColourStep[] {
    const { display, view, exposure, black = 0, white = 1, gamma = 1, look = null, lookFile = null } = choice;
    return this.cached(JSON.stringify([working, display, view, exposure, black, white, gamma, look, lookFile]), () => {
      const steps: ColourStep[] = [
        brightest,
        exposureStep(exposure),
        ...(lookFile ? this.fileLook(working, lookFile) : []),
      ];
      steps.push(...this.viewAlone(working, { display, view, look }));
      steps.push({ kind: 'clamp', low: 0, high: 1 });
      if (black !== 0 || white !== 1) steps.push(levelled({ black, white }), { kind: 'clamp', low: 0, high: 1 });
      if (gamma !== 1) steps.push({ kind: 'power', exponent: 1 / gamma });
      return mergeSteps(steps);
    });
  }

  /** A display and view with looks of the config, without trims. */
  private viewAlone(working: string, { display, view, look = null }: Omit<ViewChoice, 'exposure'>): ColourStep[] {
    const { config } = this;
    const shown = this.lutView({ display, view });
    if (shown) {
      const looked = look ? this.lookInPlace(working, { look }) : [];
      return [...looked, ...lutViewSteps(shown, working, (from, to) => this.conversion(from, to))];
    }
    if (!config) {
      if (look) throw new UnknownNameError('look', look, []);
      return viewSteps(requireSpace(working), { display, view, exposure: 0 });
    }
    const own = config.findSpace(working);
    const start = own ? working : (this.interchange() ?? working);
    const there = own ? [] : this.conversion(working, start);
    return [...there, ...config.view(start, { display, view, looks: look ?? undefined })];
  }

  /** The display and view that a name such as "sRGB / Haze, undone" means; undefined for other names. */
  private undone(name: string): { display: string; view: string } | undefined {
    const [, display, view] = undoneForm.exec(name) ?? [];
    const known = this.displays().find((d) => d.name.toLowerCase() === display?.toLowerCase());
    const found = known?.views.find((v) => v.toLowerCase() === view?.toLowerCase());
    return known && found !== undefined ? { display: known.name, view: found } : undefined;
  }

  /** A view's codes back to light of a space. Throws a named error where a view cannot be turned round. */
  private undoneSteps({ display, view }: { display: string; view: string }, to: string): ColourStep[] {
    const { config } = this;
    const shown = this.lutView({ display, view });
    if (shown) return undoneLutView(shown, to, (from, into) => this.conversion(from, into));
    if (!config) return this.undoView(to, display, view);
    const own = config.findSpace(to);
    const start = own ? to : (this.interchange() ?? to);
    const back = config.view(start, { display, view, looks: undefined }, 'inverse');
    return own ? back : mergeSteps([...back, ...this.conversion(start, to)]);
  }

  /** Steps from any built-in space through a built-in view, without trims. */
  viewFrom(from: string, display: string, view: string): ColourStep[] {
    return viewSteps(this.requireBuiltin(from), { display, view, exposure: 0 });
  }

  /** Steps from a built-in view's codes back to a space; what the view cut off is gone. */
  undoView(to: string, display: string, view: string): ColourStep[] {
    return mergeSteps(invertSteps(this.viewFrom(to, display, view)));
  }

  /** The looks of a viewing alone, from linear light of the working space into and through them; empty without a look. */
  lookSteps(working: string, choice: ViewChoice): ColourStep[] {
    const { exposure, look, lookFile } = choice;
    const steps: ColourStep[] = [];
    if (lookFile) {
      const transform = this.lookFiles.get(lookFile.id);
      if (transform) steps.push(...this.conversion(working, lookFile.space), ...selfContainedSteps(transform));
    }
    if (look && this.config) {
      const own = this.config.findSpace(working) ? working : this.interchange();
      if (own !== undefined) {
        const from = lookFile ? lookFile.space : working;
        steps.push(...this.conversion(from, own), ...this.config.look(own, look));
      }
    }
    return steps.length === 0 ? [] : mergeSteps([exposureStep(exposure), ...steps]);
  }

  /** Looks on numbers of a working space, which come back in it: a LUT or CDL of the Library, then looks of the config. For baking. */
  lookInPlace(working: string, { look, lookFile }: BakedLook): ColourStep[] {
    return this.cached(JSON.stringify(['look', working, look, lookFile]), () => {
      const steps = lookFile ? this.fileLook(working, lookFile) : [];
      if (!look) return mergeSteps(steps);
      const { config } = this;
      const own = config?.findSpace(working) ? working : this.interchange();
      if (!config || own === undefined) throw new UnknownNameError('look', look, []);
      const there = this.conversion(working, own);
      return mergeSteps([...steps, ...there, ...config.look(own, look), ...this.conversion(own, working)]);
    });
  }

  /** A LUT or CDL of the Library on numbers of the space that it expects. */
  private fileLook(working: string, { id, space, name }: { id: string; space: string; name?: string }): ColourStep[] {
    const transform = this.lookFiles.get(id);
    if (!transform) throw new UnknownNameError('look file', name ?? id, []);
    const inside = selfContainedSteps(transform);
    return [...this.conversion(working, space), ...inside, ...this.conversion(space, working)];
  }

  /** Weights of luminance of a working space; those of Rec.709 when nothing tells its primaries. */
  luminance(working: string): Vector3 {
    return luminanceWeights((this.linearTwin(working) ?? requireSpace('Linear Rec.709')).primaries);
  }

  /** The built-in linear space with the same light as a working space, if it is one: what its files are tagged as. */
  linearTwin(working: string): ColourSpace | undefined {
    if (!this.config?.findSpace(working)) {
      const builtin = findSpace(working);
      return builtin?.encoding === 'linear' ? builtin : undefined;
    }
    const middle = this.interchange();
    if (middle === undefined) return undefined;
    const steps = mergeSteps(this.config.conversion(working, middle));
    if (!isLinearMap(steps)) return undefined;
    const first = steps[0];
    const matrix: Matrix3 = first?.kind === 'matrix' ? first.matrix : [1, 0, 0, 0, 1, 0, 0, 0, 1];
    return colourSpaces.find(
      (s) =>
        s.encoding === 'linear' && primariesMatrix(s.primaries, ap0).every((x, i) => Math.abs(x - matrix[i]!) < 1e-4),
    );
  }

  /** How codes of a display are tagged in files: by its own definition, or by the words in a config's names; undefined when neither says. */
  displayEncoding(display: string, view: string): CodeEncoding | undefined {
    if (isLutDisplay(display)) return findLutView(this.lutViews, view)?.encoding;
    if (!this.config) return builtinDisplays.find((d) => d.name.toLowerCase() === display.toLowerCase())?.encoding;
    const found = this.config.document.displays.find((d) => d.name.toLowerCase() === display.toLowerCase());
    const target = found?.views.find((v) => v.name.toLowerCase() === view.toLowerCase())?.space ?? '';
    return encodingInWords(`${display} ${target}`);
  }

  private cached(key: string, make: () => ColourStep[]): ColourStep[] {
    let steps = this.cache.get(key);
    if (!steps) {
      steps = make();
      if (this.cache.size > 200) this.cache.clear();
      this.cache.set(key, steps);
    }
    return steps;
  }
}

function configFacts(config: ColourConfig, s: ConfigSpace): SpaceFacts {
  return {
    name: s.name,
    aliases: s.aliases,
    family: s.family,
    isData: s.isData,
    linear: s.reference === 'scene' && config.isLinear(s),
    about: s.description.split('\n')[0] ?? '',
    origin: 'config',
  };
}

function builtinFacts(s: ColourSpace): SpaceFacts {
  return {
    name: s.name,
    aliases: s.aliases,
    family: s.family,
    isData: s.encoding === 'data',
    linear: s.encoding === 'linear',
    about: s.about,
    origin: 'builtin',
  };
}
