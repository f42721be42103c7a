/** A picture file that cannot be read: names the file and the fault in one sentence. */
export class FormatError extends Error {
  readonly file: string;

  constructor(file: string, fault: string) {
    super(`${file}: ${fault}`);
    this.name = 'FormatError';
    this.file = file;
  }
}
