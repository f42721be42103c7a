import { statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { agrees, configEvidence, configName, type ColourConfig, type SurveySource } from '@june-haze/core';
import { lookAtFiles, lookBatch, measureSource, openConfig, surveyFolder, type SurveyThreads } from '@june-haze/files';
import type { ComputePool } from '@june-haze/server/compute';

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
  const { beside, close } = surveyThreads();
  const found = await surveyFolder(folder, {
    beside,
    ...(rate === undefined ? {} : { rate }),
    ...(config ? { more: (pattern: string) => configEvidence(config, pattern) } : {}),
    ...(options.full ? { full: true } : {}),
  }).finally(close);
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

/** Threads for a survey, started when there is a whole batch to look at: fewer files are looked at sooner than threads start. */
function surveyThreads(): { readonly beside: SurveyThreads; close(): Promise<void> } {
  let pool: Promise<ComputePool> | undefined;
  const start = async () => {
    const { ComputePool } = await import('@june-haze/server/compute');
    return new ComputePool(join(dirname(fileURLToPath(import.meta.url)), 'server-worker.mjs'));
  };
  return {
    beside: {
      look: async (files) =>
        files.length < lookBatch ? lookAtFiles(files) : (await (pool ??= start())).run('lookAtSome', files),
      measure: async (source, frame, below) =>
        pool
          ? (await pool).run('measureOne', { source, frame, folder: below })
          : measureSource(source, frame, (file) => Promise.resolve(join(below, file))),
    },
    close: async () => void (await (await pool)?.close()),
  };
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
