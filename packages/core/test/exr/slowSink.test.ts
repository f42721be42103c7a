import { expect, test } from '@jest/globals';
import { writeExr, type ByteSink, type Compression, type PartToWrite } from '../../src/index.ts';
import { nodeCodec } from './surroundings.ts';

// What is written is gathered while the piece before it is on its way: nothing of it may change until it has arrived.

const [width, height] = [1000, 900];
const channels = ['B', 'G', 'R'].map((name) => ({ name, type: 'float' as const }));
const box = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
const partOf = (compression: Compression): PartToWrite => ({
  compression,
  dataWindow: box,
  displayWindow: box,
  channels,
});
const sample = (c: number, y: number, x: number) => Math.fround(c + y / 7 + x / 1000);

/** Keeps what it is given, at once or when a moment has passed. */
function sinkOf(bytes: Uint8Array, wait: () => Promise<unknown>): ByteSink & { open: number } {
  const sink = {
    open: 0,
    async write(position: number, piece: Uint8Array) {
      sink.open++;
      await wait();
      bytes.set(piece, position);
      sink.open--;
    },
  };
  return sink;
}
const moment = () => new Promise((resolve) => setTimeout(resolve, 2));

/** Lines in memory that is used again for the next ones. */
function reusedLines() {
  const memory = channels.map(() => new Float32Array(width * 64));
  return (_: number, top: number, bottom: number) =>
    memory.map((plane, c) => {
      for (let y = top; y <= bottom; y++)
        for (let x = 0; x < width; x++) plane[(y - top) * width + x] = sample(c, y, x);
      return plane.subarray(0, (bottom - top + 1) * width);
    });
}

test.each(['none', 'zips', 'zip', 'b44'] as const)(
  '%s: a slow sink gets the same file as a quick one',
  async (compression) => {
    const [quick, slow] = [0, 1].map(() => new Uint8Array(width * height * 16));
    await writeExr(
      sinkOf(quick!, () => Promise.resolve()),
      [partOf(compression)],
      reusedLines(),
      nodeCodec,
    );
    await writeExr(sinkOf(slow!, moment), [partOf(compression)], reusedLines(), nodeCodec);
    expect(Buffer.compare(quick!, slow!)).toBe(0);
    if (compression !== 'none') return;
    // OpenEXR File Layout: of each line its number, its length, and every channel's samples.
    const view = new DataView(quick!.buffer);
    const table = tableAt(view);
    for (const y of [0, 450, 899]) {
      const at = Number(view.getBigUint64(table + 8 * y, true));
      expect([view.getInt32(at, true), view.getInt32(at + 4, true)]).toEqual([y, 12 * width]);
      channels.forEach((_, c) => expect(view.getFloat32(at + 8 + 4 * (c * width + 321), true)).toBe(sample(c, y, 321)));
    }
  },
);

/** Where the table of lines begins: it ends where the first line is, and says so first. */
function tableAt(view: DataView): number {
  for (let at = 8; at < 2000; at++) if (view.getBigUint64(at, true) === BigInt(at + 8 * height)) return at;
  throw new Error('no table');
}

test('a sink that fails: its error is passed on, when nothing is being written any more', async () => {
  let writes = 0;
  const sink = sinkOf(new Uint8Array(width * height * 16), async () => {
    await moment();
    if (++writes === 3) throw new Error('the disk is full');
  });
  const failing = {
    write: (position: number, piece: Uint8Array) => sink.write(position, piece).finally(() => (sink.open = 0)),
  };
  await expect(writeExr(failing, [partOf('none')], reusedLines(), nodeCodec)).rejects.toThrow('the disk is full');
  expect(sink.open).toBe(0);
});

test('lines that cannot be had: what was begun is written before the error is passed on', async () => {
  const sink = sinkOf(new Uint8Array(width * height * 16), moment);
  const lines = reusedLines();
  const broken = (part: number, top: number, bottom: number) => {
    if (top > 500) throw new Error('line 501 is gone');
    return lines(part, top, bottom);
  };
  await expect(writeExr(sink, [partOf('none')], broken, nodeCodec)).rejects.toThrow('line 501 is gone');
  expect(sink.open).toBe(0);
});
