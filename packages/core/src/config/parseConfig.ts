import type {
  ConfigDisplay,
  ConfigDocument,
  ConfigLook,
  ConfigNamedTransform,
  ConfigSpace,
  ConfigView,
  ConfigViewTransform,
  FileRule,
  Readable,
  ViewingRule,
} from './document.ts';
import { Fields } from './fields.ts';
import { parseTransform, type ParseOptions } from './parseTransform.ts';
import { ColourFileError } from './place.ts';
import { parseYaml, type ConfigNode } from './yamlTree.ts';

/**
 * Reads a colour config in the open OCIO format, profile versions 1 and 2. What is broken inside a space, look or view
 * is kept as that item's fault and listed in `problems`; only text that is no config at all throws a ColourFileError.
 */
export function parseConfig(text: string, file: string): ConfigDocument {
  return new ConfigReader(text, file).read();
}

class ConfigReader {
  private readonly problems: ColourFileError[] = [];
  private readonly file: string;
  private readonly top: Fields;
  private options: ParseOptions = { majorVersion: 2 };

  constructor(text: string, file: string) {
    this.file = file;
    this.top = new Fields(parseYaml(text, file), 'a colour config');
  }

  read(): ConfigDocument {
    const [majorVersion, minorVersion] = this.version();
    this.options = { majorVersion };
    const { top } = this;
    const views = this.displays();
    return {
      file: this.file,
      majorVersion,
      minorVersion,
      name: top.text('name') ?? '',
      description: top.text('description') ?? '',
      environment: top.has('environment') ? this.textMap('environment') : undefined,
      searchPaths: this.searchPaths(),
      roles: this.textMap('roles'),
      // In the order of the file, whichever list comes first.
      spaces: [...this.spaces('colorspaces', 'scene'), ...this.spaces('display_colorspaces', 'display')].sort(
        (a, b) => (a.place?.line ?? 0) - (b.place?.line ?? 0),
      ),
      displays: views,
      activeDisplays: this.names('active_displays'),
      activeViews: this.names('active_views'),
      inactiveSpaces: this.names('inactive_colorspaces'),
      looks: this.list('looks', (f, n) => this.look(f, n)),
      viewTransforms: this.list('view_transforms', (f, n) => this.viewTransform(f, n)),
      defaultViewTransform: top.text('default_view_transform'),
      namedTransforms: this.list('named_transforms', (f, n) => this.namedTransform(f, n)),
      fileRules: top.has('file_rules') ? this.list('file_rules', (f, n) => this.fileRule(f, n)) : undefined,
      viewingRules: this.list('viewing_rules', (f) => this.viewingRule(f)),
      luma: this.guard(() => top.numbers('luma', [3])),
      problems: this.problems,
    };
  }

  private version(): [number, number] {
    const text = this.top.text('ocio_profile_version');
    const place = this.top.node.place;
    if (text === undefined)
      throw new ColourFileError('this is no colour config: it has no "ocio_profile_version".', place);
    const match = /^(\d+)(?:\.(\d+))?$/.exec(text);
    const major = Number(match?.[1]);
    if (!match || major < 1 || major > 2)
      throw new ColourFileError(`profile version "${text}" cannot be read; versions 1 and 2 can.`, place);
    return [major, Number(match[2] ?? 0)];
  }

  /** Runs a reader; a fault is listed and the result left out. */
  private guard<T>(read: () => T): T | undefined {
    try {
      return read();
    } catch (e) {
      if (!(e instanceof ColourFileError)) throw e;
      this.problems.push(e);
      return undefined;
    }
  }

  private list<T>(key: string, read: (f: Fields, node: ConfigNode) => T): T[] {
    const node = this.top.get(key);
    if (!node) return [];
    if (node.kind !== 'list') {
      this.problems.push(new ColourFileError(`"${key}" must be a list.`, node.place));
      return [];
    }
    const out: T[] = [];
    for (const item of node.items) {
      const value = this.guard(() => read(new Fields(item, item.tag ?? key), item));
      if (value !== undefined) out.push(value);
    }
    return out;
  }

  private names(key: string): string[] {
    return this.guard(() => this.top.texts(key)) ?? [];
  }

  private textMap(key: string): Map<string, string> {
    const node = this.top.get(key);
    const out = new Map<string, string>();
    if (node?.kind !== 'map') return out;
    for (const name of node.twice ?? [])
      this.problems.push(
        new ColourFileError(
          `"${key}": "${name}" stands twice; the last is taken.`,
          node.entries.get(name)!.place,
          'missing-name',
        ),
      );
    for (const [name, value] of node.entries) {
      if (value.kind === 'scalar') out.set(name, value.text);
      else this.problems.push(new ColourFileError(`"${key}": "${name}" must be text.`, value.place));
    }
    return out;
  }

  private searchPaths(): string[] {
    const node = this.top.get('search_path') ?? this.top.get('resource_path');
    if (node?.kind === 'list') return node.items.flatMap((n) => (n.kind === 'scalar' ? [n.text] : []));
    return node?.kind === 'scalar' ? node.text.split(':').filter((p) => p !== '') : [];
  }

  /** A transform field; a fault is listed, with the owner's name, and kept in its place. */
  private transform(f: Fields, owner: string, ...keys: string[]): Readable | undefined {
    for (const key of keys) {
      const node = f.get(key);
      if (!node) continue;
      try {
        return parseTransform(node, this.options);
      } catch (e) {
        if (!(e instanceof ColourFileError)) throw e;
        const text = e.place ? e.message.slice(e.message.indexOf(': ') + 2) : e.message;
        const fault = new ColourFileError(`${owner}: ${text}`, e.place, e.kind);
        this.problems.push(fault);
        return fault;
      }
    }
    return undefined;
  }

  private spaces(key: string, reference: 'scene' | 'display'): ConfigSpace[] {
    return this.list(key, (f, node): ConfigSpace => {
      const name = f.requiredText('name');
      const owner = `colour space "${name}"`;
      return {
        name,
        aliases: f.texts('aliases') ?? [],
        family: f.text('family') ?? '',
        equalityGroup: f.text('equalitygroup') ?? '',
        encoding: f.text('encoding') ?? '',
        description: f.text('description') ?? '',
        categories: f.texts('categories') ?? [],
        isData: this.guard(() => f.truth('isdata', false)) ?? false,
        reference,
        toReference: this.transform(f, owner, `to_${reference}_reference`, 'to_reference'),
        fromReference: this.transform(f, owner, `from_${reference}_reference`, 'from_reference'),
        place: node.place,
      };
    });
  }

  private viewTransform(f: Fields, node: ConfigNode): ConfigViewTransform {
    const name = f.requiredText('name');
    const scene = f.has('from_scene_reference') || f.has('to_scene_reference') || f.has('from_reference');
    const reference = scene ? 'scene' : 'display';
    const owner = `view transform "${name}"`;
    return {
      name,
      reference,
      toReference: this.transform(f, owner, `to_${reference}_reference`, 'to_reference'),
      fromReference: this.transform(f, owner, `from_${reference}_reference`, 'from_reference'),
      place: node.place,
    };
  }

  private look(f: Fields, node: ConfigNode): ConfigLook {
    const name = f.requiredText('name');
    return {
      name,
      processSpace: f.requiredText('process_space'),
      description: f.text('description') ?? '',
      transform: this.transform(f, `look "${name}"`, 'transform'),
      inverseTransform: this.transform(f, `look "${name}"`, 'inverse_transform'),
      place: node.place,
    };
  }

  private namedTransform(f: Fields, node: ConfigNode): ConfigNamedTransform {
    const name = f.requiredText('name');
    return {
      name,
      aliases: f.texts('aliases') ?? [],
      family: f.text('family') ?? '',
      encoding: f.text('encoding') ?? '',
      description: f.text('description') ?? '',
      transform: this.transform(f, `named transform "${name}"`, 'transform'),
      inverseTransform: this.transform(f, `named transform "${name}"`, 'inverse_transform'),
      place: node.place,
    };
  }

  private displays(): ConfigDisplay[] {
    const shared = new Map(this.list('shared_views', (f, n) => this.view(f, n)).map((v) => [v.name, v]));
    const node = this.top.get('displays');
    if (node?.kind !== 'map') return [];
    const out: ConfigDisplay[] = [];
    for (const [name, list] of node.entries) {
      const views: ConfigView[] = [];
      for (const item of list.kind === 'list' ? list.items : []) {
        if (item.tag === 'Views' || item.kind === 'list') {
          for (const reference of item.kind === 'list' ? item.items : []) {
            const found = reference.kind === 'scalar' ? shared.get(reference.text) : undefined;
            if (found) views.push(found);
            else
              this.problems.push(
                new ColourFileError(`display "${name}" uses a shared view that does not exist.`, reference.place),
              );
          }
        } else {
          const view = this.guard(() => this.view(new Fields(item, 'View'), item));
          if (view) views.push(view);
        }
      }
      out.push({ name, views });
    }
    return out;
  }

  private view(f: Fields, node: ConfigNode): ConfigView {
    const space = f.text('display_colorspace') ?? f.text('colorspace');
    const name = f.requiredText('name');
    if (space === undefined) throw new ColourFileError(`view "${name}" has no colour space.`, node.place);
    return {
      name,
      space,
      viewTransform: f.text('view_transform'),
      looks: f.text('looks') ?? f.text('look') ?? '',
      rule: f.text('rule'),
      description: f.text('description') ?? '',
      place: node.place,
    };
  }

  private fileRule(f: Fields, node: ConfigNode): FileRule {
    return {
      name: f.requiredText('name'),
      space: f.text('colorspace'),
      pattern: f.text('pattern'),
      extension: f.text('extension'),
      regex: f.text('regex'),
      place: node.place,
    };
  }

  private viewingRule(f: Fields): ViewingRule {
    return {
      name: f.requiredText('name'),
      spaces: f.texts('colorspaces') ?? [],
      encodings: f.texts('encodings') ?? [],
    };
  }
}
