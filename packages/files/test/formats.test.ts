import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { encodeDpx } from '@june-haze/core';
import { decodeFile, decodeMovieFrames, displayProfile, readFacts } from '../src/index.ts';

// Files by the reference image library (OpenImageIO from Debian's packages) and by ffmpeg; pixels invented.
const folder = mkdtempSync(join(tmpdir(), 'june-formats-'));
const at = (name: string) => join(folder, name);
const python = (script: string) => execFileSync('/usr/bin/python3', ['-c', script, folder]);
beforeAll(() => {
  python(`
import sys, numpy as np, OpenImageIO as oiio
H, W = 37, 53
y, x = np.mgrid[0:H, 0:W].astype(np.float32)
rgb = np.stack([x / W, y / H, ((x * 7 + y * 3) % 29) / 28], 2).astype(np.float32)
a = np.clip(x / 30, 0, 1)[:, :, None]
def write(name, pixels, form, **attributes):
    spec = oiio.ImageSpec(W, H, pixels.shape[2], form)
    for k, v in attributes.items():
        spec.attribute(k.replace('__', ':'), v)
    path = sys.argv[1] + '/' + name
    out = oiio.ImageOutput.create(path)
    assert out.open(path, spec), out.geterror()
    out.write_image(np.ascontiguousarray(pixels))
    out.close()
    back = oiio.ImageInput.open(path)
    back.read_image(oiio.FLOAT).astype('<f4').tofile(path + '.f32')
straight = {'oiio__UnassociatedAlpha': 1}
for bits in (8, 10, 12, 16):
    write(f'd{bits}.dpx', rgb, oiio.UINT8 if bits == 8 else oiio.UINT16, oiio__BitsPerSample=bits)
write('packed.dpx', rgb, oiio.UINT16, oiio__BitsPerSample=10, dpx__Packing='Packed')
write('b.dpx', rgb, oiio.UINT16, oiio__BitsPerSample=10, dpx__Packing='Filled, method B')
write('little.dpx', rgb, oiio.UINT16, oiio__BitsPerSample=10, oiio__Endian='little', dpx__FrameRate=25.0, dpx__TemporalFrameRate=25.0, dpx__TimeCode='01:02:03:04', dpx__Transfer='ITU-R 709-4')
write('a.hdr', rgb * 20, oiio.FLOAT)
write('narrow.hdr', rgb, oiio.FLOAT)
write('u8.png', rgb, oiio.UINT8)
write('u16.png', rgb, oiio.UINT16)
write('grey.png', rgb[:, :, :1], oiio.UINT16)
write('f.tif', rgb * 3 - 1, oiio.FLOAT)
write('u16.tif', rgb, oiio.UINT16, compression='lzw')
write('multiplied.tif', np.concatenate([rgb * a, a], 2), oiio.FLOAT)
write('straight.tif', np.concatenate([rgb, a], 2), oiio.FLOAT, **straight)
`);
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const decode = async (name: string) => decodeFile(at(name), name, await readFacts(at(name), name), 0, null);
/** The reference library's samples, pixel by pixel, against ours; the largest difference. */
async function difference(name: string, channels: string): Promise<number> {
  const { planes, width, height } = await decode(name);
  const want = new Float32Array(Uint8Array.from(readFileSync(`${at(name)}.f32`)).buffer);
  const names = [...channels];
  expect([width * height * names.length, Object.keys(planes).join('')]).toEqual([want.length, channels]);
  let most = 0;
  names.forEach((c, k) =>
    planes[c]!.forEach((v, i) => (most = Math.max(most, Math.abs(v - want[i * names.length + k]!)))),
  );
  return most;
}

test.each([
  ['d8.dpx', 'RGB'],
  ['d10.dpx', 'RGB'],
  ['d12.dpx', 'RGB'],
  ['d16.dpx', 'RGB'],
  ['packed.dpx', 'RGB'],
  ['b.dpx', 'RGB'],
  ['little.dpx', 'RGB'],
  ['a.hdr', 'RGB'],
  ['narrow.hdr', 'RGB'],
  ['u8.png', 'RGB'],
  ['u16.png', 'RGB'],
  ['grey.png', 'Y'],
  ['f.tif', 'RGB'],
  ['u16.tif', 'RGB'],
  ['multiplied.tif', 'RGBA'],
  ['straight.tif', 'RGBA'],
])('%s decodes to the reference library’s samples', async (name, channels) => {
  // The library widens 10 and 12 bits to 16 by repeating them: up to half a 16-bit step beside ours. It multiplies straight alpha in.
  if (name === 'straight.tif') {
    const { planes } = await decode(name);
    expect((await readFacts(at(name), name)).alpha).toBe('straight');
    expect(planes.R![52]! - 52 / 53).toBeLessThan(1e-6);
    return;
  }
  expect(await difference(name, channels)).toBeLessThan(2e-5);
});

test('tags of DPX, TIFF and PNG', async () => {
  const dpx = await readFacts(at('little.dpx'), 'little.dpx');
  expect(dpx).toMatchObject({ rate: 25, sampleType: 'uint10', range: 'full', timecode: '01:02:03:04' });
  expect(dpx.evidence[0]).toMatchObject({ from: 'colour tags', space: 'Rec.709' });
  expect((await readFacts(at('multiplied.tif'), 'multiplied.tif')).alpha).toBe('premultiplied');
  expect(await readFacts(at('u16.tif'), 'u16.tif')).toMatchObject({ codec: 'lzw', sampleType: 'uint16' });
});

test('a DPX that is written is read back by the reference library', () => {
  const ramp = (k: number) => Float32Array.from({ length: 40 * 20 }, (_, i) => ((i * k) % 800) / 799);
  const planes = [ramp(1), ramp(3), ramp(7)] as [Float32Array, Float32Array, Float32Array];
  writeFileSync(
    at('ours.dpx'),
    encodeDpx({ width: 40, height: 20, planes, rate: 24, transfer: 3, colorimetric: 3, creator: 'Tern' }),
  );
  const said = execFileSync('oiiotool', ['-v', '--info', at('ours.dpx')], { encoding: 'utf8' });
  expect(said).toContain('40 x   20, 3 channel, uint10 dpx');
  expect(said).toMatch(/dpx:FrameRate: 24/);
  python(
    `import sys, OpenImageIO as o; o.ImageInput.open(sys.argv[1] + '/ours.dpx').read_image(o.FLOAT).tofile(sys.argv[1] + '/ours.f32')`,
  );
  const read = new Float32Array(Uint8Array.from(readFileSync(at('ours.f32'))).buffer);
  planes.forEach((plane, c) =>
    plane.forEach((v, i) => expect(Math.abs(read[i * 3 + c]! - v)).toBeLessThan(0.5 / 1023 + 2e-5)),
  );
});

test('files that end early, are empty or of another kind are refused in a sentence', async () => {
  for (const name of ['d10.dpx', 'a.hdr', 'u8.png', 'f.tif']) {
    const bytes = readFileSync(at(name));
    const cut = `cut.${name.split('.')[1]}`;
    writeFileSync(at(cut), bytes);
    truncateSync(at(cut), Math.floor(bytes.length * 0.7));
    await expect(decode(cut)).rejects.toThrow(new RegExp(`^${cut}: `));
  }
  writeFileSync(at('empty.png'), '');
  await expect(readFacts(at('empty.png'), 'empty.png')).rejects.toThrow('empty.png: the file is empty.');
  writeFileSync(at('false.exr'), readFileSync(at('u8.png')));
  await expect(readFacts(at('false.exr'), 'false.exr')).rejects.toThrow('this is a PNG, not an EXR as its name says.');
});

describe('movies', () => {
  /** Frame n is a flat grey of code 40 + 8 n. */
  const make = (name: string, ...how: string[]) =>
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-f', 'lavfi', '-i', `color=c=black:s=64x48:r=24:d=1`],
      ...[
        '-vf',
        `format=rgb24,geq=r='40+8*N':g='40+8*N':b='40+8*N',scale=out_color_matrix=bt709:out_range=tv,format=yuv420p`,
      ],
      ...how,
      at(name),
    ]);
  const grey = async (name: string, frame: number, range: 'full' | 'legal' = 'legal') =>
    Math.round(255 * (await decodeFile(at(name), name, await readFacts(at(name), name), frame, range)).planes.G![700]!);
  beforeAll(() => {
    make(
      'gop.mp4',
      '-c:v',
      'libx264',
      '-g',
      '12',
      '-bf',
      '2',
      '-crf',
      '8',
      '-color_primaries',
      'bt709',
      '-color_trc',
      'bt709',
    );
    make('k.webm', '-c:v', 'libvpx-vp9', '-crf', '10', '-b:v', '0');
    execFileSync('ffmpeg', [
      '-v',
      'error',
      '-i',
      at('gop.mp4'),
      '-vf',
      "select='not(mod(n,3))+lt(n,12)'",
      '-fps_mode',
      'vfr',
      at('vary.mp4'),
    ]);
    execFileSync('ffmpeg', [
      '-v',
      'error',
      '-i',
      at('gop.mp4'),
      '-c',
      'copy',
      '-metadata:s:v',
      'rotate=90',
      at('turned.mp4'),
    ]);
    execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', 'sine=d=1', at('sound.mp4')]);
  });

  test.each(['gop.mp4', 'k.webm'])('%s: any frame is the one that was asked for', async (name) => {
    for (const frame of [0, 1, 7, 13, 23])
      expect(Math.abs((await grey(name, frame)) - (40 + 8 * frame))).toBeLessThan(3);
    const facts = await readFacts(at(name), name);
    expect(facts).toMatchObject({ frames: 24, rate: 24, range: 'legal', sampleType: 'uint8' });
    const several = await decodeMovieFrames(at(name), name, facts, 20, 8, 'legal');
    expect(several).toHaveLength(4);
    await expect(decodeFile(at(name), name, facts, 40, 'legal')).rejects.toThrow('frame 40 cannot be decoded');
  });

  test('codes taken as full range are greyer: 16 is black no more (ITU-R BT.709-6, item 5.6)', async () => {
    const legal = await grey('gop.mp4', 10);
    expect(Math.abs((await grey('gop.mp4', 10, 'full')) - (16 + (legal * 219) / 255))).toBeLessThan(3);
  });

  test('a rate that varies and a turned picture are said; a movie without a picture is refused', async () => {
    const vary = await readFacts(at('vary.mp4'), 'vary.mp4');
    expect(vary.notes.join()).toMatch(/Its rate varies; it is taken as a constant/);
    expect(vary.frames).toBe(16);
    const turned = await readFacts(at('turned.mp4'), 'turned.mp4');
    expect([turned.width, turned.height, turned.notes.length]).toEqual([48, 64, 1]);
    await expect(readFacts(at('sound.mp4'), 'sound.mp4')).rejects.toThrow('there is no picture in this movie');
  });
});

test('ICC profiles are known by their numbers (ICC.1:2022)', async () => {
  const { iccEvidence } = await import('@june-haze/core');
  expect(iccEvidence(displayProfile('srgb'))[0]).toMatchObject({ from: 'ICC profile', space: 'sRGB' });
  expect(iccEvidence(displayProfile('bt1886'))[0]).toMatchObject({ space: 'BT.1886' });
  expect(iccEvidence(new Uint8Array(50))[0]).toEqual({ from: 'ICC profile', says: 'damaged' });
});
