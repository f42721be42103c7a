import { inconsistencies } from './inconsistencies.ts';
import { mergeSteps, isLinearMap } from '../colour/merge.ts';
import type { ColourStep } from '../colour/steps.ts';
import { builtinStyleSteps } from '../transform/builtin/styles.ts';
import { transformSteps } from '../transform/steps.ts';
import { combine, opposite, type Direction, type Transform, type TransformOf } from '../transform/transform.ts';
import { ConfigNames, sameName } from './configNames.ts';
import { requireResolved, type Context } from './context.ts';
import type {
  ConfigDocument,
  ConfigLook,
  ConfigNamedTransform,
  ConfigSpace,
  ConfigView,
  ConfigViewTransform,
  Readable,
} from './document.ts';
import { FileContents, type ConfigFiles } from './fileContents.ts';
import { parseLooks, type LookToken } from './looks.ts';
import { ColourFileError, type Place } from './place.ts';

export interface ViewRequest {
  readonly display: string;
  readonly view: string;
  /** Takes the place of the view's own looks; "" means none, undefined the view's own. */
  readonly looks?: string | undefined;
}

const useDisplayName = '<USE_DISPLAY_NAME>';

/**
 * A colour config in use: names looked up, files read, transforms compiled into steps. Everything is computed when it is asked
 * for, so that what is broken in one space does not touch the others; faults are ColourFileErrors with name and place.
 */
export class ColourConfig extends ConfigNames {
  private readonly contents: FileContents;
  /** What is being compiled, outermost first: to find circles. */
  private readonly active: string[] = [];

  constructor(document: ConfigDocument, files: ConfigFiles, context: Context = new Map()) {
    super(document, context);
    this.contents = new FileContents(files, document.searchPaths, this.context);
  }

  /** Whether a space is linear light: its way to the reference is a linear map. Data is not. */
  isLinear(space: ConfigSpace): boolean {
    try {
      return !space.isData && isLinearMap(this.toReference(space, true));
    } catch (e) {
      if (e instanceof ColourFileError) return false;
      throw e;
    }
  }

  // ---- conversions ----

  /** Steps from one space (or named transform) to another. Data at either end is left alone. */
  conversion(from: string, to: string): ColourStep[] {
    return mergeSteps(this.between(from, to, true));
  }

  /** Steps from a space through a view of a display, or back. */
  view(from: string, request: ViewRequest, direction: Direction = 'forward'): ColourStep[] {
    const transform: TransformOf<'displayView'> = {
      type: 'displayView',
      direction: 'forward',
      from,
      display: request.display,
      view: request.view,
      looksBypass: request.looks !== undefined,
      dataBypass: true,
    };
    return mergeSteps(this.displayView(transform, direction, request.looks));
  }

  /** Steps of looks on numbers of a space, which come back in the same space. */
  look(space: string, looks: string): ColourStep[] {
    return mergeSteps(this.lookTransform(space, space, looks, 'forward'));
  }

  /** Steps of a named transform. */
  named(name: string, direction: Direction): ColourStep[] {
    const found = this.findNamed(name);
    if (!found)
      throw this.unknown(
        'named transform',
        name,
        this.document.namedTransforms.map((n) => n.name),
      );
    return mergeSteps(this.namedSteps(found, direction));
  }

  /** Tries everything the config holds and lists what cannot be used, by name and place. */
  problems(): ColourFileError[] {
    const out: ColourFileError[] = [...this.document.problems];
    const attempt = (owner: string, run: () => unknown) => {
      try {
        run();
      } catch (e) {
        if (!(e instanceof ColourFileError)) throw e;
        if (!out.some((o) => o.message === e.message || e.message.includes(o.message)))
          out.push(e.message.includes(owner) ? e : this.ownedBy(owner, e));
      }
    };
    for (const space of this.document.spaces) {
      if (space.isData) continue;
      attempt(`colour space "${space.name}"`, () => this.toReference(space, true));
      attempt(`colour space "${space.name}"`, () => space.fromReference && this.fromReference(space, true));
    }
    for (const look of this.document.looks)
      attempt(`look "${look.name}"`, () => this.lookSteps(look, 'forward', look.processSpace));
    for (const n of this.document.namedTransforms)
      attempt(`named transform "${n.name}"`, () => this.namedSteps(n, n.transform ? 'forward' : 'inverse'));
    const start = this.document.spaces.find((s) => !s.isData && s.reference === 'scene');
    for (const display of this.document.displays) {
      for (const view of display.views) {
        attempt(`view "${view.name}" of display "${display.name}"`, () => {
          if (start) this.view(start.name, { display: display.name, view: view.name });
        });
      }
    }
    for (const [role, target] of this.document.roles) {
      if (!this.findSpace(target))
        out.push(
          new ColourFileError(
            `role "${role}" points at the space "${target}", which does not exist.`,
            { file: this.document.file, line: 0 },
            'missing-name',
          ),
        );
    }
    const told = (m: string) => out.some((o) => o.message === m);
    out.push(...inconsistencies(this.document, (name) => this.knowsSpace(name)).filter((e) => !told(e.message)));
    return out;
  }

  private knowsSpace(name: string): boolean {
    return this.findSpace(name) !== undefined || this.findNamed(name) !== undefined;
  }

  private ownedBy(owner: string, e: ColourFileError): ColourFileError {
    return new ColourFileError(`${owner}: ${e.message}`, undefined, e.kind);
  }

  // ---- compiling ----

  private between(from: string, to: string, dataBypass: boolean, place?: Place): ColourStep[] {
    const names = [from, to].map((n) => requireResolved(n, this.context, place)) as [string, string];
    const [source, target] = [this.findSpace(names[0]), this.findSpace(names[1])];
    const namedSource = source ? undefined : this.findNamed(names[0]);
    const namedTarget = target ? undefined : this.findNamed(names[1]);
    if (namedSource || namedTarget) {
      return [
        ...(namedSource ? this.namedSteps(namedSource, 'forward') : []),
        ...(namedTarget ? this.namedSteps(namedTarget, 'inverse') : []),
      ];
    }
    return this.spaceToSpace(this.requireSpace(names[0], place), this.requireSpace(names[1], place), dataBypass);
  }

  private spaceToSpace(from: ConfigSpace, to: ConfigSpace, dataBypass: boolean): ColourStep[] {
    if (from === to) return [];
    if (from.equalityGroup !== '' && from.equalityGroup === to.equalityGroup) return [];
    if (dataBypass && (from.isData || to.isData)) return [];
    return [
      ...this.toReference(from, dataBypass),
      ...this.betweenReferences(from.reference, to.reference),
      ...this.fromReference(to, dataBypass),
    ];
  }

  private toReference(space: ConfigSpace, dataBypass: boolean): ColourStep[] {
    if (dataBypass && space.isData) return [];
    return this.within(`colour space "${space.name}"`, space.place, () => {
      if (space.toReference) return this.usable(space.toReference, 'forward');
      return space.fromReference ? this.usable(space.fromReference, 'inverse') : [];
    });
  }

  private fromReference(space: ConfigSpace, dataBypass: boolean): ColourStep[] {
    if (dataBypass && space.isData) return [];
    return this.within(`colour space "${space.name}"`, space.place, () => {
      if (space.fromReference) return this.usable(space.fromReference, 'forward');
      return space.toReference ? this.usable(space.toReference, 'inverse') : [];
    });
  }

  /** From scene to display reference or back, by the config's default view transform. */
  private betweenReferences(from: 'scene' | 'display', to: 'scene' | 'display'): ColourStep[] {
    if (from === to) return [];
    const { viewTransforms, defaultViewTransform } = this.document;
    const chosen =
      (defaultViewTransform !== undefined && viewTransforms.find((v) => sameName(v.name, defaultViewTransform))) ||
      viewTransforms.find((v) => v.reference === 'scene');
    if (!chosen)
      throw new ColourFileError('there is no view transform between the scene and the display reference.', {
        file: this.document.file,
        line: 0,
      });
    return this.viewTransform(chosen, from === 'scene' ? 'forward' : 'inverse');
  }

  private viewTransform(v: ConfigViewTransform, direction: Direction): ColourStep[] {
    return this.within(`view transform "${v.name}"`, v.place, () => {
      const [first, second] =
        direction === 'forward' ? [v.fromReference, v.toReference] : [v.toReference, v.fromReference];
      if (first) return this.usable(first, 'forward');
      return second ? this.usable(second, 'inverse') : [];
    });
  }

  private namedSteps(n: ConfigNamedTransform, direction: Direction): ColourStep[] {
    return this.within(`named transform "${n.name}"`, n.place, () => {
      const [first, second] =
        direction === 'forward' ? [n.transform, n.inverseTransform] : [n.inverseTransform, n.transform];
      if (first) return this.usable(first, 'forward');
      if (second) return this.usable(second, 'inverse');
      throw new ColourFileError(`named transform "${n.name}" has no transform.`, n.place);
    });
  }

  /** Runs a compilation; the same thing within itself is a circle. */
  private within(what: string, place: Place | undefined, run: () => ColourStep[]): ColourStep[] {
    if (this.active.includes(what)) {
      const circle = [...this.active.slice(this.active.indexOf(what)), what].join(' → ');
      throw new ColourFileError(`a circle: ${circle}.`, place, 'cycle');
    }
    this.active.push(what);
    try {
      return run();
    } finally {
      this.active.pop();
    }
  }

  private usable(readable: Readable, direction: Direction): ColourStep[] {
    if (readable instanceof ColourFileError) throw readable;
    return this.steps(readable, direction);
  }

  /** Steps of any transform in a direction. */
  steps(transform: Transform, direction: Direction): ColourStep[] {
    const way = combine(transform.direction, direction);
    switch (transform.type) {
      case 'group': {
        const children = way === 'forward' ? transform.children : [...transform.children].reverse();
        return children.flatMap((c) => this.steps(c, way));
      }
      case 'file':
        return this.fileSteps(transform, way);
      case 'builtin':
        return builtinStyleSteps(transform.style, way, transform.place);
      case 'space':
        return way === 'forward'
          ? this.between(transform.from, transform.to, transform.dataBypass, transform.place)
          : this.between(transform.to, transform.from, transform.dataBypass, transform.place);
      case 'look':
        return this.lookTransform(transform.from, transform.to, transform.looks, way, transform.place);
      case 'displayView':
        return this.displayView(transform, way, undefined);
      default:
        return transformSteps(transform, direction);
    }
  }

  private fileSteps(t: TransformOf<'file'>, way: Direction): ColourStep[] {
    const content = this.contents.of(t);
    return this.within(`file "${t.source}"`, t.place, () => this.steps(content, way));
  }

  // ---- looks and views ----

  private lookTransform(from: string, to: string, looks: string, way: Direction, place?: Place): ColourStep[] {
    const turn = way === 'inverse';
    const [start, end] = (turn ? [to, from] : [from, to]).map((n) => requireResolved(n, this.context, place)) as [
      string,
      string,
    ];
    const options = parseLooks(requireResolved(looks, this.context, place)).map((tokens) =>
      turn ? [...tokens].reverse().map((t) => ({ name: t.name, direction: opposite(t.direction) })) : tokens,
    );
    const run = this.runLooks(options, this.requireSpace(start, place).name, place);
    return [...run.steps, ...this.between(run.space, end, true, place)];
  }

  /** Runs the first option of looks whose files are all there. Gives the steps and the space they end in. */
  private runLooks(
    options: readonly LookToken[][],
    start: string,
    place?: Place,
  ): { steps: ColourStep[]; space: string } {
    let missing: ColourFileError | undefined;
    for (const tokens of options) {
      try {
        let space = start;
        const steps: ColourStep[] = [];
        for (const token of tokens) {
          const look = this.document.looks.find((l) => sameName(l.name, token.name));
          if (!look)
            throw this.unknown(
              'look',
              token.name,
              this.document.looks.map((l) => l.name),
              place,
            );
          const part = this.lookSteps(look, token.direction, space);
          steps.push(...part);
          // A look that does nothing does not move the numbers into its space either.
          if (part.length > 0) space = look.processSpace;
        }
        return { steps, space };
      } catch (e) {
        if (!(e instanceof ColourFileError) || e.kind !== 'missing-file' || options.length === 1) throw e;
        missing ??= e;
      }
    }
    throw missing ?? new ColourFileError('there is no look.', place);
  }

  /** A look on numbers of `space`: into its process space and through its transform. */
  private lookSteps(look: ConfigLook, direction: Direction, space: string): ColourStep[] {
    return this.within(`look "${look.name}"`, look.place, () => {
      const [first, second] =
        direction === 'forward' ? [look.transform, look.inverseTransform] : [look.inverseTransform, look.transform];
      const own = first ? this.usable(first, 'forward') : second ? this.usable(second, 'inverse') : [];
      if (own.length === 0) return [];
      return [...this.between(space, look.processSpace, true, look.place), ...own];
    });
  }

  /** `looks` undefined takes the view's own unless they are bypassed. */
  private displayView(t: TransformOf<'displayView'>, direction: Direction, looks: string | undefined): ColourStep[] {
    const [from, displayName, viewName] = [t.from, t.display, t.view].map((n) =>
      requireResolved(n, this.context, t.place),
    ) as [string, string, string];
    const source = this.requireSpace(from, t.place);
    const display = this.requireDisplay(displayName, t.place);
    const view = this.requireView(display, viewName, t.place);
    const spaceName = sameName(view.space, useDisplayName) ? display.name : view.space;
    const named = this.findSpace(spaceName) ? undefined : this.findNamed(spaceName);
    const wanted = looks ?? (t.looksBypass ? '' : view.looks);
    const options = parseLooks(wanted);
    if (named) {
      return direction === 'forward' ? this.namedSteps(named, 'forward') : this.namedSteps(named, 'inverse');
    }
    const target = this.requireSpace(spaceName, view.place);
    if (t.dataBypass && (source.isData || target.isData)) return [];
    if (direction === 'forward') {
      const run = this.runLooks(options, source.name, view.place);
      return [...run.steps, ...this.throughView(this.requireSpace(run.space), view, target, 'forward')];
    }
    // Backwards: out of the view into the last look's space, through the looks turned round, and on to the source space.
    const turned = options.map((tokens) =>
      [...tokens].reverse().map((k) => ({ name: k.name, direction: opposite(k.direction) })),
    );
    const last = options[0]?.at(-1);
    const lookSpace = last && this.document.looks.find((l) => sameName(l.name, last.name))?.processSpace;
    const middle = lookSpace ? this.requireSpace(lookSpace) : source;
    const run = this.runLooks(turned, middle.name, view.place);
    return [
      ...this.throughView(middle, view, target, 'inverse'),
      ...run.steps,
      ...this.spaceToSpace(this.requireSpace(run.space), source, t.dataBypass),
    ];
  }

  private throughView(from: ConfigSpace, view: ConfigView, target: ConfigSpace, direction: Direction): ColourStep[] {
    if (view.viewTransform === undefined || view.viewTransform === '') {
      return direction === 'forward' ? this.spaceToSpace(from, target, true) : this.spaceToSpace(target, from, true);
    }
    const name = view.viewTransform;
    const chosen = this.document.viewTransforms.find((v) => sameName(v.name, name));
    if (!chosen)
      throw this.unknown(
        'view transform',
        name,
        this.document.viewTransforms.map((v) => v.name),
        view.place,
      );
    if (direction === 'forward') {
      return [
        ...this.toReference(from, true),
        ...this.betweenReferences(from.reference, chosen.reference),
        ...this.viewTransform(chosen, 'forward'),
        ...this.fromReference(target, true),
      ];
    }
    return [
      ...this.toReference(target, true),
      ...this.viewTransform(chosen, 'inverse'),
      ...this.betweenReferences(chosen.reference, from.reference),
      ...this.fromReference(from, true),
    ];
  }
}
