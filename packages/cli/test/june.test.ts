import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { readWhole, withExr } from '../src/samples.ts';

const folder = mkdtempSync(join(tmpdir(), 'june-cli-'));
const file = join(folder, 'made.exr');
const script = join(process.cwd(), 'packages/core/test/exr/reference.py');
const june = (args: string[], input?: string) =>
  spawnSync(join(process.cwd(), 'june'), args, { input, encoding: 'utf8' });
const answer = (args: string[], input?: string) => JSON.parse(june(args, input).stdout) as never;

beforeAll(() => {
  const parts = [
    { name: 'beauty', channels: ['R', 'G', 'B'], types: ['half', 'half', 'half'], seed: 1 },
    { name: 'depth', channels: ['Z'], types: ['float'], seed: 2 },
  ];
  writeFileSync(
    join(folder, 'jobs.json'),
    JSON.stringify([{ file, width: 20, height: 12, x: -2, y: 3, full: [0, 0, 24, 16], compression: 'zips', parts }]),
  );
  spawnSync('/usr/bin/python3', [script, 'write', join(folder, 'jobs.json')]);
  spawnSync('/usr/bin/python3', [script, 'read', file]);
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe('june', () => {
  test('info tells parts, windows and channels as strict JSON', () => {
    const { parts } = answer(['info', file, '--json']) as { parts: Record<string, unknown>[] };
    expect(parts.map((p) => [p.name, p.compression, p.dataWindow, p.displayWindow])).toEqual([
      ['beauty', 'zips', [-2, 3, 17, 14], [0, 0, 23, 15]],
      ['depth', 'zips', [-2, 3, 17, 14], [0, 0, 23, 15]],
    ]);
    expect(parts[1]!.channels).toEqual([{ name: 'Z', type: 'float', xSampling: 1, ySampling: 1 }]);
  });

  test('pixels writes the reference library’s own samples', () => {
    const out = join(folder, 'out.f32');
    expect(answer(['pixels', file, '--part', '0', '--channels', 'R,G,B', '--out', out])).toEqual({
      width: 20,
      height: 12,
      channels: ['R', 'G', 'B'],
    });
    const want = readFileSync(`${file}.f32`).subarray(0, 20 * 12 * 3 * 4);
    expect(Buffer.compare(readFileSync(out), want)).toBe(0);
    answer(['pixels', file, '--part', '1', '--channel', 'Z', '--out', out]);
    expect(Buffer.compare(readFileSync(out), readFileSync(`${file}.f32`).subarray(20 * 12 * 3 * 4))).toBe(0);
  });

  test('ends quietly when its reader wants no more, and lists what works of a config that is not whole', () => {
    const command = `set -o pipefail; ${join(process.cwd(), 'june')} colour --config builtin --list | head -c 1`;
    const { status, stderr } = spawnSync('bash', ['-c', command], { encoding: 'utf8' });
    expect([status, stderr]).toEqual([0, '']);
    const config = join(folder, 'torn.ocio');
    const text = [
      'ocio_profile_version: 2',
      'roles: {default: a, data: gone}',
      'displays: {wall: [!<View> {name: v, colorspace: a}, !<View> {name: w, colorspace: nowhere}]}',
      'colorspaces: [!<ColorSpace> {name: a}]',
    ];
    writeFileSync(config, text.join('\n'));
    const list = june(['colour', '--config', config, '--list']);
    expect((JSON.parse(list.stdout) as { colorSpaces: object[] }).colorSpaces).toMatchObject([{ name: 'a' }]);
    const lines = list.stderr.trim().split('\n');
    expect(lines).toHaveLength(2);
    expect(list.stderr).toMatch(/role "data".*"gone"/);
    expect(list.stderr).toMatch(/view "w" of display "wall".*line 3.*"nowhere"/);
  });

  test('compare, verify, idhash and deltae', () => {
    expect((answer(['compare', file, file, '--json']) as { equal: boolean }).equal).toBe(true);
    expect((answer(['verify', file, '--json']) as { whole: boolean }).whole).toBe(true);
    expect(Object.keys(answer(['idhash', 'kettle', 'a,b']))).toEqual(['kettle', 'a,b']);
    // Sharma, Wu, Dalal 2005, table 1, pair 1 (from memory).
    const [e] = answer(['deltae', '--json'], '[[[50,2.6772,-79.7751],[50,0,-82.7485]]]') as number[];
    expect(e).toBeCloseTo(2.0425, 4);
  });

  test('colour converts, turns round and views; ACES grey shows near code 0.356 in sRGB', () => {
    const convert =
      (...args: string[]) =>
      (input: string) =>
        answer(['colour', '--config', 'builtin', ...args], input) as number[][];
    const there = convert('--from', 'ACEScg', '--to', 'sRGB')('[[0.18,0.18,0.18],[1,0.2,-0.1]]');
    expect(there[0]![0]).toBeCloseTo(0.46136, 4);
    const back = convert('--from', 'ACEScg', '--to', 'sRGB', '--inverse')(JSON.stringify(there));
    back[1]!.forEach((v, i) => expect(v).toBeCloseTo([1, 0.2, -0.1][i]!, 4));
    // RRT maps 0.18 to 4.8 nit of 48; dim surround and sRGB follow (Academy CTL).
    const expected = 1.055 * (((4.8 - 0.02) / 47.98) ** 0.9811) ** (1 / 2.4) - 0.055;
    expect(
      convert('--from', 'ACEScg', '--display', 'sRGB', '--view', 'ACES SDR')('[[0.18,0.18,0.18]]')[0]![0],
    ).toBeCloseTo(expected, 3);
  });

  test.each([
    [['info', '/nowhere.exr'], /nowhere\.exr: the file is not there/],
    [['colour', '--config', 'builtin', '--from', 'Nope', '--to', 'sRGB'], /no colour space named "Nope"/],
    [
      ['colour', '--config', 'builtin', '--from', 'sRGB', '--display', 'sRGB', '--view', 'Nope'],
      /no colour? ?view|no view of display sRGB named "Nope"/,
    ],
    [['pixels', '/etc/hostname', '--out', '/tmp/none.f32'], /this is not an EXR file/],
    [['deltae', '--json'], /pairs of CIELAB colours/],
    [['info', '/dev/null'], /this is no plain file/],
  ])('errors are one line that names the fault: %j', (args, message) => {
    const { status, stderr } = june(args, '[[0,0,0]]');
    expect(status).not.toBe(0);
    expect(stderr.trim().split('\n')).toHaveLength(1);
    expect(stderr).toMatch(message);
  });

  describe('rewrite', () => {
    const rewritten = (name: string, ...args: string[]) => {
      const to = join(folder, name);
      expect(june(['rewrite', file, to, ...args])).toMatchObject({ status: 0, stderr: '' });
      return to;
    };
    // What came out is read by the engine in this process: june's own info and compare have their tests above.
    const partsOf = (path: string) => withExr(path, (file) => Promise.resolve(file.parts));
    const samplesOf = (path: string) =>
      withExr(path, async (made) => {
        const planes: [string, Buffer][] = [];
        for (const part of made.parts)
          for (const { name } of part.channels) {
            const { planes: read } = await readWhole(made, part.index, [name]);
            const plane = read[0]!;
            planes.push([`${part.name} ${name}`, Buffer.from(plane.buffer, plane.byteOffset, plane.byteLength)]);
          }
        return planes;
      });

    test.each(['none', 'rle', 'zips', 'zip', 'piz'])('%s keeps every sample, in lines and in tiles', async (codec) => {
      const before = await samplesOf(file);
      for (const layout of ['scanline', 'tiled']) {
        const to = rewritten(`${codec}_${layout}.exr`, '--codec', codec, '--layout', layout, '--tile', '16');
        expect(await samplesOf(to)).toEqual(before);
        expect((await partsOf(to)).map((p) => [p.compression, p.type])).toEqual([
          [codec, `${layout}image`],
          [codec, `${layout}image`],
        ]);
        const info = spawnSync('exrinfo', ['-v', to], { encoding: 'utf8' });
        expect([info.status, info.stdout]).toEqual([0, expect.stringContaining('beauty')]);
      }
    });

    test('layers go together, into parts and into files; types change', async () => {
      const one = rewritten('one.exr', '--layers', 'together', '--type', 'float');
      expect((await partsOf(one)).map((p) => p.channels.map((c) => `${c.name} ${c.type}`))).toEqual([
        ['B float', 'G float', 'R float', 'Z float'],
      ]);
      const parts = rewritten('parts.exr', '--layers', 'parts');
      expect((await partsOf(parts)).map((p) => p.name)).toEqual(['beauty', 'depth']);
      rewritten('files.exr', '--layers', 'files');
      expect((await partsOf(join(folder, 'files.depth.exr'))).map((p) => p.channels.map((c) => c.name))).toEqual([
        ['Z'],
      ]);
    });

    test('attributes are kept', () => {
      const attributes = (path: string) =>
        (answer(['info', path, '--json']) as { parts: { attributes: Record<string, unknown> }[] }).parts[0]!.attributes;
      const [before, after] = [attributes(file), attributes(rewritten('kept.exr', '--codec', 'dwaa'))];
      const same = Object.keys(before).filter((k) => !['compression', 'chunkCount', 'channels'].includes(k));
      for (const k of same) expect([k, after[k]]).toEqual([k, before[k]]);
      expect(same).toContain('dataWindow');
    });

    test.each([
      [['--codec', 'lzw'], /"lzw" is no codec of EXR/],
      [['--type', 'double'], /"double" is no sample type/],
      [['--layout', 'spiral'], /"scanline" or "tiled"/],
      [['--layers', 'apart'], /"together"/],
    ])('%j is refused and writes nothing', (args, words) => {
      const to = join(folder, 'refused.exr');
      const { status, stderr } = june(['rewrite', file, to, ...args]);
      expect([status, existsSync(to)]).toEqual([1, false]);
      expect(stderr).toMatch(words);
    });
  });

  test('verify reads pictures and movies whole, says what their tags say, and finds what is cut off', () => {
    const at = (name: string) => join(folder, name);
    const [picture, movie, cut] = [at('seen.png'), at('seen.mp4'), at('cut.png')];
    // Tagged by other programs: an sRGB chunk, and video tags.
    expect(
      spawnSync('oiiotool', [
        '--pattern',
        'noise',
        '64x36',
        '3',
        '-d',
        'uint8',
        '--attrib',
        'oiio:ColorSpace',
        'sRGB',
        '-o',
        picture,
      ]).status,
    ).toBe(0);
    const source = ['-f', 'lavfi', '-i', 'testsrc=size=64x36:rate=25:duration=0.4'];
    const tags = ['-color_primaries', 'bt709', '-color_trc', 'bt709', '-colorspace', 'bt709', '-pix_fmt', 'yuv420p'];
    expect(spawnSync('ffmpeg', ['-v', 'error', '-y', ...source, ...tags, movie]).status).toBe(0);
    expect(answer(['verify', picture, '--json'])).toMatchObject({
      whole: true,
      kind: 'png',
      width: 64,
      height: 36,
      nonFinite: 0,
      says: expect.arrayContaining([expect.stringContaining('sRGB')]),
    });
    expect(answer(['verify', movie, '--json'])).toMatchObject({
      whole: true,
      kind: 'movie',
      frames: 10,
      rate: 25,
      says: ['colour tags: video tags: Rec.709, BT.709 curve'],
    });
    const bytes = readFileSync(picture);
    writeFileSync(cut, bytes.subarray(0, bytes.length >> 1));
    const { status, stdout } = june(['verify', cut]);
    expect([status, stdout]).toEqual([1, expect.stringMatching(/cut\.png: not whole: .*cannot be read whole/)]);
  });

  test('verify reads every level: damage in the smallest is found', () => {
    const [source, levels, damaged] = ['flat.exr', 'levels.exr', 'damaged.exr'].map((n) => join(folder, n)) as [
      string,
      string,
      string,
    ];
    expect(june(['rewrite', file, source, '--layers', 'together', '--codec', 'none']).status).toBe(0);
    expect(spawnSync('exrmaketiled', ['-m', '-t', '8', '8', '-z', 'none', source, levels]).status).toBe(0);
    expect(answer(['verify', levels, '--json'])).toMatchObject({ whole: true });
    const bytes = readFileSync(levels);
    writeFileSync(damaged, bytes.subarray(0, bytes.length - 4));
    const { status, stdout } = june(['verify', damaged, '--json']);
    expect(status).toBe(1);
    expect((JSON.parse(stdout) as { whole: boolean; parts: { missing: unknown[] }[] }).parts[0]!.missing).toHaveLength(
      1,
    );
  });

  test('bench decode times runs of the engine', () => {
    const { runs, threads, megabytes } = answer([
      'bench',
      'decode',
      file,
      '--runs',
      '2',
      '--threads',
      '2',
      '--json',
    ]) as {
      runs: number[];
      threads: number;
      megabytes: number;
    };
    expect([runs.length, threads, megabytes]).toEqual([2, 2, (20 * 12 * 6) / 1e6]);
    expect(Math.min(...runs)).toBeGreaterThan(0);
  });

  test('starts in about 0.3 s: a few times what the bare engine takes, in the same moment', () => {
    const fastest = (run: () => unknown) =>
      Math.min(
        ...[1, 2, 3, 4].map(() => {
          const started = performance.now();
          run();
          return performance.now() - started;
        }),
      );
    const bare = fastest(() => spawnSync(process.execPath, ['-e', '0']));
    // Measured: 0.28 s against 0.045 s. Both grow alike on a busy machine.
    expect(fastest(() => june(['idhash', 'kettle']))).toBeLessThan(12 * bare);
  });
});
