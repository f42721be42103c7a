/** What a file says of itself besides its pixels and colours; empty words are left out. */
export interface FileWords {
  readonly owner: string;
  readonly comments: string;
}
export const noWords: FileWords = { owner: '', comments: '' };
