import type { ConfigDocument } from './document.ts';
import { ColourFileError, type Place } from './place.ts';

interface Named {
  readonly name: string;
  readonly aliases?: readonly string[];
  readonly place: Place;
}

/** Names are looked up without regard to case. */
const folded = (s: string) => s.toLowerCase();

/**
 * Names of a config that lead nowhere or stand twice, as far as nothing fails by them: spaces, aliases, views, rules, looks and the active
 * lists. What still works of it is not touched by them. `knowsSpace` tells whether a name, role or alias is a space.
 */
export function inconsistencies(document: ConfigDocument, knowsSpace: (name: string) => boolean): ColourFileError[] {
  const out: ColourFileError[] = [];
  const nowhere: Place = { file: document.file, line: 0 };
  const say = (message: string, place: Place = nowhere) =>
    out.push(new ColourFileError(message, place, 'missing-name'));

  /** `taken` maps names that were met to what they are. */
  const twice = (what: string, items: readonly Named[], taken = new Map<string, string>()) => {
    for (const { name, aliases = [], place } of items)
      for (const word of [name, ...aliases]) {
        const owner = word === name ? what : `${what} "${name}": its alias`;
        const before = taken.get(folded(word));
        if (before !== undefined)
          say(`${owner} "${word}" stands twice: it is ${before} too; the first is taken.`, place);
        else taken.set(folded(word), word === name ? `a ${what}` : `an alias of the ${what} "${name}"`);
      }
    return taken;
  };
  const names = twice('colour space', document.spaces);
  twice('named transform', document.namedTransforms, names);
  twice('look', document.looks);
  twice('view transform', document.viewTransforms);
  twice('file rule', document.fileRules ?? []);

  const transforms = new Set(document.viewTransforms.map((t) => folded(t.name)));
  const rules = new Set(document.viewingRules.map((r) => folded(r.name)));
  for (const display of document.displays) {
    twice(`view of display "${display.name}"`, display.views);
    for (const view of display.views) {
      if (view.rule !== undefined && !rules.has(folded(view.rule)))
        say(
          `view "${view.name}" of display "${display.name}" follows the viewing rule "${view.rule}", which does not exist.`,
          view.place,
        );
    }
  }
  for (const rule of document.fileRules ?? [])
    if (rule.space !== undefined && !knowsSpace(rule.space))
      say(`file rule "${rule.name}" leads to the space "${rule.space}", which does not exist.`, rule.place);
  for (const rule of document.viewingRules)
    for (const space of rule.spaces)
      if (!knowsSpace(space)) say(`viewing rule "${rule.name}" names the space "${space}", which does not exist.`);
  const displays = new Set(document.displays.map((d) => folded(d.name)));
  const views = new Set(document.displays.flatMap((d) => d.views.map((v) => folded(v.name))));
  for (const name of document.activeDisplays)
    if (!displays.has(folded(name))) say(`active_displays names the display "${name}", which does not exist.`);
  for (const name of document.activeViews)
    if (!views.has(folded(name))) say(`active_views names the view "${name}", which does not exist.`);
  for (const name of document.inactiveSpaces)
    if (!names.has(folded(name))) say(`inactive_colorspaces names "${name}", which does not exist.`);
  const { defaultViewTransform: usual } = document;
  if (usual !== undefined && !transforms.has(folded(usual)))
    say(`default_view_transform is "${usual}", which does not exist.`);
  return out;
}
