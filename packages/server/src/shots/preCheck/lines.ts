import type { OutputSettings, PreCheckItem, Shot } from '@june-haze/contract';
import type { WritingColours } from '../../compute/colourTasks.ts';

/** What the list before writing is made of. */
export interface Asked {
  readonly shot: Shot;
  readonly settings: OutputSettings;
  readonly colours: WritingColours;
}

export const stop = (text: string, mend?: PreCheckItem['mend']): PreCheckItem => ({
  weight: 'stop',
  text,
  ...(mend ? { mend } : {}),
});
export const warning = (text: string, mend?: PreCheckItem['mend']): PreCheckItem => ({
  weight: 'warning',
  text,
  ...(mend ? { mend } : {}),
});
/** What has to be put right, or accepted with a reason. */
export const ask = (text: string, mend?: PreCheckItem['mend']): PreCheckItem => ({
  weight: 'ask',
  text,
  ...(mend ? { mend } : {}),
});
export const note = (text: string): PreCheckItem => ({ weight: 'note', text });
