import { statSync } from 'node:fs';
import {
  agrees,
  findSpace,
  type ColourConfig,
  type Evidence,
  type MoreEvidence,
  type SurveySource,
} from '@june-haze/core';
import { openConfig, surveyFolder } from '@june-haze/files';

export interface SurveyCommandOptions {
  rate?: string;
  config?: string;
  full?: boolean;
  json?: boolean;
}

/** `june survey`: what Intake finds in a folder. */
export async function survey(folder: string, options: SurveyCommandOptions): Promise<void> {
  if (!statSync(folder, { throwIfNoEntry: false })?.isDirectory()) throw new Error(`${folder}: this is not a folder.`);
  const rate = options.rate === undefined ? undefined : Number(options.rate);
  if (rate !== undefined && !(rate > 0)) throw new Error(`--rate ${options.rate}: a rate is a number above 0.`);
  const config = options.config === undefined ? undefined : openConfig(options.config);
  const found = await surveyFolder(folder, {
    ...(rate === undefined ? {} : { rate }),
    ...(config ? { more: ruleEvidence(config) } : {}),
    ...(options.full ? { full: true } : {}),
  });
  const sources = found.sources.map((s) => report(s, config));
  if (options.json) {
    process.stdout.write(`${JSON.stringify({ sources, problems: found.problems })}\n`);
    return;
  }
  for (const s of sources)
    process.stdout.write(
      `${s.pattern}  ${s.frames.join('–')}  ${s.width}×${s.height}  ${s.space.guess ?? 'not declared'}\n`,
    );
  for (const p of found.problems) {
    const pattern = found.sources.find((s) => s.id === p.source)?.pattern ?? '';
    process.stdout.write(`${p.kind}  ${p.file ?? pattern}  ${p.text}\n`);
  }
}

/** What a config's file rules say of a path; its default rule says little. */
function ruleEvidence(config: ColourConfig): MoreEvidence {
  return (pattern): Evidence[] => {
    const match = config.ruleFor(pattern);
    if (!match) return [];
    const space = builtinName(config, match.space);
    const plain = match.rule.toLowerCase() === 'default';
    return [
      {
        from: 'config’s file rules',
        says: `rule ${match.rule}: ${match.space}`,
        space,
        ...(plain ? { weight: 0.2 } : {}),
      },
    ];
  };
}

/** The built-in name of a config's space, by its name or one of its aliases; its own name when the built-in config has none such. */
function builtinName(config: ColourConfig, name: string): string {
  const space = config.findSpace(name);
  for (const known of [name, ...(space ? [space.name, ...space.aliases] : [])]) {
    const found = findSpace(known);
    if (found) return found.name;
  }
  return name;
}

/** The config's name of a built-in space when it knows it. */
function configName(config: ColourConfig | undefined, name: string): string {
  if (!config) return name;
  const own = findSpace(name);
  for (const known of [name, ...(own ? [own.name, ...own.aliases] : [])]) {
    const found = config.findSpace(known);
    if (found) return found.name;
  }
  return name;
}

/** A source in the form of `june survey --json` (docs/intake.md). */
function report(s: SurveySource, config: ColourConfig | undefined) {
  const { guess, confidence, evidence } = s.space;
  return {
    id: s.id,
    name: s.name,
    pattern: s.pattern,
    view: s.view,
    kind: s.kind,
    frames: s.frames,
    step: s.step,
    missing: s.missing,
    unreadable: s.unreadable,
    width: s.width,
    height: s.height,
    pixelAspect: s.pixelAspect,
    rate: s.rate,
    codec: s.codec,
    sampleType: s.sampleType,
    alpha: s.alpha,
    passes: s.passes,
    space: {
      guess: guess === undefined ? null : configName(config, guess),
      confidence,
      evidence: evidence.map((e) => ({
        from: e.from,
        says: e.says,
        agrees: guess === undefined ? false : agrees(e, guess) !== false,
      })),
    },
  };
}
