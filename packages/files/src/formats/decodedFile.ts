/** A picture's samples as the file has them, by channel, top to bottom: integers as 0 … 1, floats as they are. */
export interface DecodedFile {
  readonly width: number;
  readonly height: number;
  readonly planes: Readonly<Record<string, Float32Array<ArrayBuffer>>>;
}
