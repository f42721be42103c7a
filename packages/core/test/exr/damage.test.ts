import { describe, expect, test } from '@jest/globals';
import { openExr } from '../../src/exr/header.ts';
import { readChannels } from '../../src/exr/read.ts';
import { writeExr } from '../../src/exr/write.ts';
import { memorySink, memorySource, nodeCodec } from './surroundings.ts';

async function sound(): Promise<Uint8Array> {
  const window = { xMin: 0, yMin: 0, xMax: 63, yMax: 63 };
  const sink = memorySink();
  const plane = Uint16Array.from({ length: 64 * 64 }, (_, i) => (i * 7919) & 0x3fff);
  const channels = ['R', 'G', 'B'].map((name) => ({ name, type: 'half' as const }));
  const part = { compression: 'zip' as const, dataWindow: window, displayWindow: window, channels };
  await writeExr(
    sink,
    [part],
    (_, top, bottom) => channels.map(() => plane.subarray(top * 64, (bottom + 1) * 64)),
    nodeCodec,
  );
  return sink.bytes();
}

describe('damaged files give one clear sentence or their readable part', () => {
  test('a file cut short names the missing lines and gives the others', async () => {
    const bytes = await sound();
    const file = await openExr(memorySource(bytes.slice(0, Math.floor(bytes.length * 0.9)), 'cut.exr'));
    const { missing, planes } = await readChannels(file, 0, ['R'], nodeCodec);
    expect(missing).toEqual([[48, 63]]);
    expect(planes[0]![64]).toBe((64 * 7919) & 0x3fff);
  });

  test.each([
    ['text', new TextEncoder().encode('this is a letter, not a picture'), /letter\.exr: this is not an EXR file/],
    ['nothing', new Uint8Array(0), /letter\.exr: this is not an EXR file/],
    ['a magic number alone', Uint8Array.of(0x76, 0x2f, 0x31, 1, 2, 0, 0, 0), /ends inside its header/],
  ])('%s', async (_, bytes, message) => {
    await expect(openExr(memorySource(bytes, 'letter.exr'))).rejects.toThrow(message);
  });

  test('an absurd window and an absurd attribute size are refused before anything is allocated', async () => {
    const bytes = await sound();
    const at = Buffer.from(bytes).indexOf('dataWindow\0box2i\0') + 'dataWindow\0box2i\0'.length;
    const huge = bytes.slice();
    new DataView(huge.buffer).setInt32(at + 12, 0x7fffffff, true);
    await expect(openExr(memorySource(huge))).rejects.toThrow(/claims a window of 2147483648 x/);
    const long = bytes.slice();
    new DataView(long.buffer).setInt32(at, 0x7ffffff0, true);
    await expect(openExr(memorySource(long))).rejects.toThrow(/"dataWindow" claims 2147483632 bytes/);
  });

  test('a channel that is not there is named', async () => {
    const file = await openExr(memorySource(await sound(), 'packed.exr'));
    await expect(readChannels(file, 0, ['nope'], nodeCodec)).rejects.toThrow(
      /packed.exr: part 0 has no channel named "nope"/,
    );
  });

  test('a table that a stopped writer left empty is made anew from the chunks that are there', async () => {
    const bytes = await sound();
    const file = await openExr(memorySource(bytes));
    const offsets = [...file.parts[0]!.offsets];
    const table = offsets[0]! - offsets.length * 8;
    const stopped = bytes.slice();
    stopped.fill(0, table, offsets[0]);
    const again = await openExr(memorySource(stopped));
    expect([...again.parts[0]!.offsets]).toEqual(offsets);
    const cut = await openExr(memorySource(stopped.slice(0, offsets[2]! + 100)));
    const { missing } = await readChannels(cut, 0, ['R'], nodeCodec);
    expect(missing).toEqual([[32, 63]]);
  });
});
