import { matchWording, ShotColour } from '@june-haze/core';
import { openConfig } from '@june-haze/files';

/** What a renderer's words mean in a config. */
export function wording(words: string[], { config, json }: { config: string; json?: boolean }): Promise<void> {
  const rows = matchWording(words.join(' '), new ShotColour(config === 'builtin' ? undefined : openConfig(config)));
  const line = (r: (typeof rows)[number]) =>
    `${r.score.toFixed(2)}  ${[r.space, r.display, r.view, r.look].filter((w) => w !== null).join(' · ')}  ${r.why}`;
  process.stdout.write(json ? `${JSON.stringify({ rows })}\n` : `${rows.map(line).join('\n')}\n`);
  return Promise.resolve();
}
