import type { Drawn } from './drawnPictures.ts';

/** What stands where nothing is drawn yet. */
const nothingYet = '#777777';

/** A canvas that pictures are put on: whole ones, or parts where they lie in the whole. */
export class PicturePaper {
  private readonly canvas: HTMLCanvasElement;
  private shown = '';

  constructor(canvas: HTMLCanvasElement) {
    this.canvas = canvas;
  }

  /** Puts a picture on the canvas, which has the whole one's size. `state` is another whenever the rest of the whole is another. */
  put({ rgba, width, window }: Drawn, whole: { readonly width: number; readonly height: number }, state: string): void {
    const context = this.canvas.getContext('2d', { alpha: false })!;
    const resized = this.canvas.width !== whole.width || this.canvas.height !== whole.height;
    if (resized) this.resize(context, whole, window !== undefined);
    else if (window && state !== this.shown) {
      context.fillStyle = nothingYet;
      context.fillRect(0, 0, whole.width, whole.height);
    }
    this.shown = state;
    context.putImageData(new ImageData(rgba, width), window?.x ?? 0, window?.y ?? 0);
  }

  /** Around a part that is exact, what was there before serves, larger or smaller, until it is looked at. */
  private resize(
    context: CanvasRenderingContext2D,
    { width, height }: { width: number; height: number },
    keeps: boolean,
  ): void {
    const { canvas } = this;
    const before = keeps ? document.createElement('canvas') : undefined;
    if (before) {
      [before.width, before.height] = [canvas.width, canvas.height];
      before.getContext('2d', { alpha: false })!.drawImage(canvas, 0, 0);
    }
    if (canvas.width !== width) canvas.width = width;
    if (canvas.height !== height) canvas.height = height;
    if (before) context.drawImage(before, 0, 0, width, height);
  }
}
