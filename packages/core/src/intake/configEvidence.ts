import { findSpace } from '../colour/spaces.ts';
import type { ColourConfig } from '../config/colourConfig.ts';
import type { Evidence } from './evidence.ts';

/** What a config's file rules say of a path; its default rule says little. Names are the built-in config's where it has the space. */
export function configEvidence(config: ColourConfig, path: string): Evidence[] {
  const match = config.ruleFor(path);
  if (!match) return [];
  const plain = match.rule.toLowerCase() === 'default';
  return [
    {
      from: 'config’s file rules',
      says: `rule ${match.rule}: ${match.space}`,
      space: builtinName(config, match.space),
      ...(plain ? { weight: 0.2 } : {}),
    },
  ];
}

/** The built-in name of a config's space, by its name or one of its aliases; its own name when the built-in config has none such. */
export function builtinName(config: ColourConfig, name: string): string {
  const space = config.findSpace(name);
  for (const known of [name, ...(space ? [space.name, ...space.aliases] : [])]) {
    const found = findSpace(known);
    if (found) return found.name;
  }
  return name;
}

/** The config's name of a built-in space when it knows it, else the built-in name. */
export function configName(config: ColourConfig | undefined, name: string): string {
  if (!config) return name;
  const own = findSpace(name);
  for (const known of [name, ...(own ? [own.name, ...own.aliases] : [])]) {
    const found = config.findSpace(known);
    if (found) return found.name;
  }
  return name;
}
