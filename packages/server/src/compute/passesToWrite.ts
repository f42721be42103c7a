import type { PassChannel, Plan } from '@june-haze/core';
import type { FrameFiles } from './evaluateFrame.ts';

/** A pass as it is written: where it lies, and what its numbers are declared to be. Plain data; travels to worker threads. */
export interface PassToWrite {
  readonly name: string;
  /** What stands before its channels' names where two passes meet. */
  readonly owner: string;
  readonly path: string;
  /** What errors call the file. */
  readonly fileName: string;
  /** Within the file. */
  readonly part: number;
  readonly channels: readonly PassChannel[];
  readonly space: string | null;
  /** It holds no colour. */
  readonly isData: boolean;
}

/** A matte of the ledger: its plan's total is the matte in red. */
export interface MatteToWrite {
  readonly name: string;
  readonly plan: Plan;
  readonly files: FrameFiles;
}

export interface PassesToWrite {
  readonly passes: readonly PassToWrite[];
  readonly mattes: readonly MatteToWrite[];
  /** Where the files go, in the order of the layers where each has its own. */
  readonly paths: readonly string[];
}
