import type { LedgerDocument } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import type { SampleAnswer } from './engine/messages.ts';
import type { SampledThrough } from './engine/PictureEngine.ts';
import type { Plans } from './engine/plans.ts';
import type { PickAnswer } from './usePicking.ts';

/** What is done with a pane past React. */
export interface PaneHandle {
  draft(moved: { readonly document?: LedgerDocument; readonly sources?: Shot['sources'] }): void;
  toFrame(frame: number): void;
  pick(plans: Plans): Promise<PickAnswer | undefined>;
  sample(plans: Plans, through: SampledThrough | undefined): Promise<SampleAnswer | undefined>;
  expose(stops: number): void;
  probe(x: number, y: number): void;
}
