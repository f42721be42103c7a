/** One frame of one shot, to be traced and saved. Plain data; travels to worker threads. */
export interface FrameTask {
  readonly shot: ShotName;
  readonly folder: string;
  readonly frame: number;
  readonly first: number;
  readonly count: number;
  readonly width: number;
  readonly height: number;
}

export const shotNames = ['landing', 'kettle', 'lastboat'] as const;
export type ShotName = (typeof shotNames)[number];

/** 0 … 1 through the shot. */
export const progressOf = ({ frame, first, count }: FrameTask): number =>
  count > 1 ? (frame - first) / (count - 1) : 0;

export const fourDigits = (frame: number): string => String(frame).padStart(4, '0');
