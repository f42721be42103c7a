import { execFileSync, spawnSync } from 'node:child_process';
import { copyFileSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { ComputePool } from '@june-haze/server/compute';
import * as tasks from '../../server/src/compute/worker.ts';
import { verifyByJob } from '../../server/src/job/verifyByJob.ts';
import { runWith } from '../src/run.ts';

// `june run` on files that the reference image library wrote, its outputs read by that library; numbers worked out here from the job
// file's own definition (docs/jobs.md).

const top = mkdtempSync(join(tmpdir(), 'june-job-'));
afterAll(() => rmSync(top, { recursive: true }));

const [width, height] = [4, 2];
const value = (channel: string, frame: number, i: number) => {
  if (channel === 'A') return [1, 0.5, 0.25, 0][i % 4]!;
  const base = { R: 0.5, G: 0.25, B: 0.125 }[channel.slice(-1)] ?? 0.3;
  return base * (channel.startsWith('sun') ? 2 : 1) * (1 + i) + (frame - 1001) * 0.5;
};
const channels = ['R', 'G', 'B', 'A', 'sun.R', 'sun.G', 'sun.B', 'mask.Y'];
const plane = (channel: string, frame: number) =>
  Array.from({ length: width * height }, (_, i) =>
    channel === 'mask.Y' ? [0, 0.25, 1, 3][i % 4]! : value(channel, frame, i),
  );

const writer = `
import sys, json, numpy, OpenImageIO as oiio
for job in json.load(sys.stdin):
    spec = oiio.ImageSpec(job["width"], job["height"], len(job["channels"]), "float")
    spec.channelnames = tuple(job["channels"])
    for key, at in (("x", 0), ("y", 0), ("full_x", 0), ("full_y", 0)):
        setattr(spec, key, job.get(key, at))
    spec.full_width, spec.full_height = job.get("full_width", job["width"]), job.get("full_height", job["height"])
    data = numpy.array(job["planes"], dtype="float32").T.reshape(job["height"], job["width"], -1)
    out = oiio.ImageOutput.create(job["file"])
    assert out.open(job["file"], spec), oiio.geterror()
    assert out.write_image(numpy.ascontiguousarray(data)), out.geterror()
    out.close()
`;
const reader = `
import sys, json, OpenImageIO as oiio
found = []
for name in json.load(sys.stdin):
    buf = oiio.ImageBuf(name)
    spec = buf.spec()
    pixels = buf.get_pixels(oiio.FLOAT).reshape(-1, spec.nchannels).T
    found.append({"channels": list(spec.channelnames), "planes": pixels.tolist(), "format": str(spec.format),
      "tags": {"profile": spec.get_string_attribute("ICCProfile:profile_description")} if name[-4:] in (".tif", ".jpg")
        else {a.name: str(a.value) for a in spec.extra_attribs if not a.name.startswith("oiio:")}})
print(json.dumps(found).replace("Infinity", "1e999").replace("NaN", "null"))
`;
interface Read {
  channels: string[];
  planes: number[][];
  format: string;
  tags: Record<string, string>;
}
const read = (...files: string[]) =>
  JSON.parse(execFileSync('/usr/bin/python3', ['-c', reader], { input: JSON.stringify(files) }).toString()) as Read[];

beforeAll(() => {
  const frames = [1001, 1002, 1004].map((frame) => ({
    file: join(top, `in.${frame}.exr`),
    width,
    height,
    channels,
    planes: channels.map((c) => plane(c, frame)),
  }));
  const small = {
    file: join(top, 'small.exr'),
    width: 2,
    height: 2,
    channels: ['R', 'G', 'B'],
    planes: [1, 2, 3].map((v) => [v, v, v, v]),
  };
  const cropped = {
    ...small,
    file: join(top, 'cropped.exr'),
    ...{ x: 1, y: 0, full_width: width, full_height: height },
  };
  // The same passes, a file for each: of one a frame is missing, another is a still.
  const apart = ['beauty', 'sun', 'mask'].flatMap((pass) =>
    (pass === 'mask' ? [''] : pass === 'sun' ? ['.1001'] : ['.1001', '.1002']).map((number) => {
      const names = channels.filter((c) => (pass === 'beauty' ? !c.includes('.') : c.startsWith(`${pass}.`)));
      return {
        file: join(top, `set_${pass}${number}.exr`),
        width,
        height,
        channels: names.map((c) => c.split('.').at(-1)!),
        planes: names.map((c) => plane(c, number === '.1002' ? 1002 : 1001)),
      };
    }),
  );
  execFileSync('/usr/bin/python3', ['-c', writer], { input: JSON.stringify([...frames, small, cropped, ...apart]) });
});

const beauty = { kind: 'pass', source: 'render', pass: 'beauty', operation: 'plus' };
const sun = { ...beauty, pass: 'sun' };
let made = 0;
/** The command in this process: starting another for each job takes two seconds. The last test starts it as it ships. */
const inThisThread = {
  threads: 1,
  run: (name: keyof typeof tasks, task: never) => Promise.resolve().then(() => tasks[name](task) as never),
} as unknown as Pick<ComputePool, 'run' | 'threads'>;

/** Writes a job beside the files and runs it. */
async function run(job: object, ...more: string[]) {
  const name = `job${++made}`;
  const path = join(top, `${name}.json`);
  const whole = {
    version: 1,
    frames: [1001, 1001],
    working: 'ACEScg',
    sources: { render: { pattern: 'in.####.exr', space: 'ACEScg' } },
    outputs: [{ name: 'master', kind: 'exr', space: 'ACEScg', sampleType: 'float', pattern: `${name}/out.####.exr` }],
    entries: [beauty],
    ...job,
  };
  writeFileSync(path, JSON.stringify(whole));
  const done = { status: 0, stdout: '', stderr: '' };
  const say = (to: 'stdout' | 'stderr') => ({ write: (text: string) => (done[to] += text) });
  try {
    const said = { stdout: say('stdout'), stderr: say('stderr') };
    if (!(await runWith(path, { json: true, overwrite: more.includes('--overwrite') }, inThisThread, said)))
      done.status = 1;
  } catch (error) {
    done.status = 1;
    done.stderr += `june: ${(error as Error).message}\n`;
  }
  const reports = done.stdout
    .split('\n')
    .filter(Boolean)
    .map(
      (line) =>
        JSON.parse(line) as { output: string; frames: { frame: number; file: string; ok: boolean; message: string }[] },
    );
  const file = (frame = 1001) => join(top, name, `out.${frame}.exr`);
  return { status: done.status, stderr: done.stderr, reports, file, folder: join(top, name), job: path };
}
/** A float EXR's planes by channel. */
const planesOf = (found: Read) => Object.fromEntries(found.channels.map((c, i) => [c, found.planes[i]!]));
const close = (got: readonly number[], want: readonly number[]) =>
  got.forEach((v, i) => expect(Math.abs(v - want[i]!)).toBeLessThanOrEqual(2e-6 * Math.max(1, Math.abs(want[i]!))));
const rgb = (c: string, frame = 1001) => plane(c, frame);

describe('the numbers of a job', () => {
  test('sums, products, alpha of the render once, keyed numbers, mattes; A only where the total has alpha', async () => {
    const plain = await run({ entries: [sun] });
    expect([plain.status, plain.stderr]).toEqual([0, '']);
    const whole = await run({
      frames: [1001, 1002],
      alphaFrom: { source: 'render', pass: 'beauty' },
      mattes: { m: { kind: 'channel', source: 'render', pass: 'mask', channel: 'Y' } },
      entries: [
        {
          ...sun,
          mix: 0.5,
          adjustments: [
            {
              kind: 'exposure',
              stops: {
                keys: [
                  [1001, 1],
                  [1002, 0],
                ],
              },
            },
          ],
        },
        { ...beauty, matte: 'm' },
        { ...beauty, pass: 'sun', operation: 'minus', enabled: false },
      ],
    });
    expect(whole.status).toBe(0);
    expect(whole.reports).toEqual([
      {
        output: 'master',
        frames: [1001, 1002].map((frame) => ({ frame, file: whole.file(frame), ok: true, message: '' })),
      },
    ]);
    const [first, second, bare] = read(whole.file(1001), whole.file(1002), plain.file());
    expect([bare!.channels, first!.channels]).toEqual([
      ['R', 'G', 'B'],
      ['R', 'G', 'B', 'A'],
    ]);
    const mask = plane('mask.Y', 1001).map((v) => Math.min(1, v));
    for (const [found, frame, gain] of [
      [first!, 1001, 2],
      [second!, 1002, 1],
    ] as const) {
      const got = planesOf(found);
      for (const c of 'RGB') {
        const want = rgb(`sun.${c}`, frame).map((v, i) => 0.5 * gain * v + mask[i]! * rgb(c, frame)[i]!);
        close(got[c]!, want);
      }
      expect(got.A).toEqual(plane('A', frame));
    }
    for (const c of 'RGB') expect(planesOf(bare!)[c]).toEqual(rgb(`sun.${c}`).map(Math.fround));
  });

  test('a source with a file for each pass is read as one that holds them all; a missing frame is of its pass alone', async () => {
    const whole = (sources: object) => ({
      sources,
      alphaFrom: { source: 'render', pass: 'beauty' },
      mattes: { m: { kind: 'channel', source: 'render', pass: 'mask', channel: 'Y' } },
      entries: [{ ...sun, matte: 'm' }, beauty],
    });
    const files = { beauty: 'set_beauty.####.exr', sun: 'set_sun.####.exr', mask: 'set_mask.exr' };
    const set = { render: { pattern: 'set_{pass}.####.exr', files, space: 'ACEScg' } };
    const [one, several] = [
      await run(whole({ render: { pattern: 'in.####.exr', space: 'ACEScg' } })),
      await run(whole(set)),
    ];
    expect([several.status, several.stderr]).toEqual([0, '']);
    expect(readFileSync(several.file()).equals(readFileSync(one.file()))).toBe(true);
    const later = await run({ ...whole(set), frames: [1002, 1002] });
    expect(later.stderr).toContain('set_sun.1002.exr is missing');
    const alone = await run({ sources: set, frames: [1002, 1002], entries: [beauty] });
    expect(planesOf(read(alone.file(1002))[0]!).R).toEqual(rgb('R', 1002).map(Math.fround));
    const without = await run({ sources: { render: { ...set.render, files: { ...files, fog: 'set_fog.####.exr' } } } });
    expect(without.stderr).toContain('sources.render: there are no files set_fog.####.exr.');
  });

  test('a pass that is said to be numbers is not converted, whatever its name says', async () => {
    const render = { pattern: 'in.####.exr', space: 'Linear Rec.709' };
    const asLight = await run({ sources: { render }, entries: [sun] });
    const asData = await run({ sources: { render: { ...render, roles: { sun: 'position' } } }, entries: [sun] });
    expect(asLight.status).toBe(0);
    expect(planesOf(read(asLight.file())[0]!).R).not.toEqual(rgb('sun.R').map(Math.fround));
    expect(asData.stderr).toMatch(/sun/);
  });

  test('straight and no alpha, adjustments on straight colour, over and a subtotal', async () => {
    const source = (alpha: string) => ({ render: { pattern: 'in.####.exr', space: 'ACEScg', alpha } });
    const lifted = { ...beauty, operation: 'over', adjustments: [{ kind: 'offset', red: 0.1, green: 0.1, blue: 0.1 }] };
    const jobs = await Promise.all(
      ['premultiplied', 'straight', 'none'].map((alpha) => run({ sources: source(alpha), entries: [lifted] })),
    );
    const nested = await run({
      entries: [
        { kind: 'fill', colour: [0.5, 0.5, 0.5], operation: 'over' },
        { kind: 'subtotal', operation: 'over', entries: [{ ...beauty, operation: 'over' }, sun] },
      ],
    });
    const [premultiplied, straight, none, sub] = read(...jobs.map((j) => j.file()), nested.file()).map(planesOf);
    const alpha = plane('A', 1001);
    // Where alpha is 0 there is no straight colour: it stays.
    close(
      premultiplied!.R!,
      rgb('R').map((v, i) => (alpha[i] ? v + 0.1 * alpha[i]! : v)),
    );
    close(
      straight!.R!,
      rgb('R').map((v, i) => (v + 0.1) * alpha[i]!),
    );
    close(
      none!.R!,
      rgb('R').map((v) => v + 0.1),
    );
    expect(none!.A).toEqual(alpha.map(() => 1));
    close(
      sub!.R!,
      rgb('R').map((v, i) => v + rgb('sun.R')[i]! + 0.5 * (1 - alpha[i]!)),
    );
  });

  test('placement, data windows and a fill beside them', async () => {
    const sources = {
      small: { pattern: 'small.exr', space: 'ACEScg' },
      cropped: { pattern: 'cropped.exr', space: 'ACEScg' },
      moved: { pattern: 'small.exr', space: 'ACEScg', placement: { shift: [1, 0] } },
    };
    const over = (source: string) => ({ kind: 'pass', source, pass: 'beauty', operation: 'over' });
    const size = [width, height];
    const [small, cropped, moved] = read(
      ...(await Promise.all(['small', 'cropped', 'moved'].map((s) => run({ size, sources, entries: [over(s)] })))).map(
        (r) => r.file(),
      ),
    ).map(planesOf);
    expect(small!.A).toEqual([0, 1, 1, 0, 0, 1, 1, 0]);
    expect(small!.G).toEqual([0, 2, 2, 0, 0, 2, 2, 0]);
    expect(cropped).toEqual(small);
    expect(moved!.B).toEqual([0, 0, 3, 3, 0, 0, 3, 3]);
  });

  test('a log EXR names its space and nothing in it says linear; a half one is linear with its primaries', async () => {
    const { folder, status } = await run({
      rate: 23.976,
      outputs: [
        { name: 'log', kind: 'exr', space: 'ACEScct', sampleType: 'float', pattern: `job${made + 1}/log.####.exr` },
        {
          name: 'half',
          kind: 'exr',
          space: 'Linear Rec.709',
          pattern: `job${made + 1}/half.####.exr`,
          compression: 'piz',
        },
      ],
      entries: [sun],
    });
    expect(status).toBe(0);
    const [log, half] = read(join(folder, 'log.1001.exr'), join(folder, 'half.1001.exr'));
    // ACEScct, S-2016-001: (log2(v) + 9.72) / 17.52 above 0.0078125.
    close(
      planesOf(log!).R!,
      rgb('sun.R').map((v) => (Math.log2(v) + 9.72) / 17.52),
    );
    expect(log!.tags.space).toBe('ACEScct');
    expect(JSON.stringify(log!.tags)).not.toMatch(/lin/i);
    expect(half!.format).toBe('half');
    expect(half!.tags).toMatchObject({ compression: 'piz', colorInteropID: 'lin_rec709_scene' });
    expect(half!.tags.framesPerSecond).toMatch(/24000.*1001/);
  });

  test('PNG: through the viewing and in a space, 8 and 16 bits, straight alpha, tagged', async () => {
    const viewing = { display: 'sRGB', view: 'Untoned' };
    const { folder, status, stderr } = await run({
      viewing,
      working: 'Linear Rec.709',
      sources: { render: { pattern: 'in.####.exr', space: 'Linear Rec.709' } },
      entries: [{ ...beauty, operation: 'over', adjustments: [{ kind: 'gain', master: 0.25 }] }],
      outputs: [
        { name: 'shown', kind: 'png', pattern: `job${made + 1}/shown.####.png` },
        { name: 'deep', kind: 'png', space: 'sRGB', sampleType: 'uint16', pattern: `job${made + 1}/deep.####.png` },
      ],
    });
    expect([status, stderr]).toEqual([0, '']);
    const encode = (v: number) => (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);
    const alpha = plane('A', 1001);
    const wanted = rgb('R').map((v, i) => encode(Math.min(1, (0.25 * v) / (alpha[i] || 1))));
    for (const [file, codes] of [
      ['shown', 255],
      ['deep', 65535],
    ] as const) {
      const bytes = readFileSync(join(folder, `${file}.1001.png`));
      expect(bytes[24]).toBe(codes === 255 ? 8 : 16);
      for (const chunk of ['cICP', 'sRGB', 'gAMA', 'cHRM']) expect(bytes.includes(chunk, 0, 'latin1')).toBe(true);
      // Chunks unpacked by Python alone: the reference library would multiply by alpha.
      const raw = pngSamples(join(folder, `${file}.1001.png`));
      wanted.forEach((v, i) => expect(Math.abs(raw[i * 4]! - v * codes)).toBeLessThanOrEqual(0.51));
      alpha.forEach((a, i) => expect(Math.abs(raw[i * 4 + 3]! - a * codes)).toBeLessThanOrEqual(0.5));
    }
  });
});

/** A PNG's samples with nothing done to them: filters undone by hand (PNG third edition, clause 9). */
function pngSamples(file: string): number[] {
  const script = `
import sys, zlib, struct, json
b = open(sys.argv[1], "rb").read()
at, data = 8, b""
while at < len(b):
    n, kind = struct.unpack(">I4s", b[at:at + 8])
    body = b[at + 8:at + 8 + n]
    if kind == b"IHDR": w, h, depth, colour = struct.unpack(">IIBB", body[:10])
    if kind == b"IDAT": data += body
    at += n + 12
size = {2: 3, 6: 4}[colour] * depth // 8
raw, line, out = zlib.decompress(data), w * size, []
before = bytearray(line)
for y in range(h):
    f, row = raw[y * (line + 1)], bytearray(raw[y * (line + 1) + 1:(y + 1) * (line + 1)])
    for i in range(line):
        a, b_, c = (row[i - size] if i >= size else 0), before[i], (before[i - size] if i >= size else 0)
        p = a + b_ - c
        paeth = min((abs(p - a), 0, a), (abs(p - b_), 1, b_), (abs(p - c), 2, c))[2]
        row[i] = (row[i] + [0, a, b_, (a + b_) // 2, paeth][f]) & 255
    out += list(row) if depth == 8 else list(struct.unpack(">%dH" % (line // 2), bytes(row)))
    before = row
print(json.dumps(out))
`;
  return JSON.parse(execFileSync('/usr/bin/python3', ['-c', script, file]).toString()) as number[];
}

describe('what a job does and refuses', () => {
  test('a missing frame stops by its number, is held, or is black; the others are written', async () => {
    const source = (missing: string) => ({ render: { pattern: 'in.####.exr', space: 'ACEScg', missing } });
    const stop = await run({ frames: [1002, 1004] });
    expect([stop.status, stop.reports[0]!.frames.map((f) => f.ok)]).toEqual([1, [true, false, true]]);
    expect(stop.stderr).toMatch(/frame 1003: .*in\.1003\.exr is missing/);
    expect([existsSync(stop.file(1003)), existsSync(stop.file(1004))]).toEqual([false, true]);
    const held = await run({ frames: [1000, 1003], sources: source('hold') });
    const black = await run({ frames: [1003, 1003], sources: source('black') });
    const [before, after, none] = read(held.file(1000), held.file(1003), black.file(1003)).map(planesOf);
    expect(before!.R).toEqual(rgb('R', 1001).map(Math.fround));
    expect(after!.R).toEqual(rgb('R', 1002).map(Math.fround));
    expect(none!.R).toEqual(rgb('R').map(() => 0));
    const offset = await run({ sources: { render: { pattern: 'in.####.exr', space: 'ACEScg', offset: 3 } } });
    expect(planesOf(read(offset.file())[0]!).R).toEqual(rgb('R', 1004).map(Math.fround));
  });

  test('files in the way are refused before anything is written; one output, some frames and another folder are asked for', async () => {
    const first = await run({ frames: [1001, 1002] });
    expect(first.status).toBe(0);
    const job = join(top, `job${made}.json`);
    const again = (...more: string[]) =>
      spawnSync(join(process.cwd(), 'june'), ['run', job, ...more], { encoding: 'utf8' });
    const refused = again();
    expect([refused.status, refused.stderr]).toEqual([1, expect.stringMatching(/out\.1001\.exr is already there/)]);
    expect(again('--overwrite').status).toBe(0);
    const other = join(top, 'other');
    expect(again('--to', other, '--frames', '1002').status).toBe(0);
    expect(readdirSync(other)).toEqual(['out.1002.exr']);
    expect(again('--output', 'slave').stderr).toMatch(/there is no output "slave"; there are master/);
  });

  const output = { name: 'a', kind: 'exr', space: 'ACEScg', pattern: 'refused/a.####.exr' };
  const seen = { display: 'sRGB', view: 'Untoned' };
  const shown = { name: 'a', kind: 'png', pattern: 'refused/a.####.png' };
  test.each<[object, RegExp]>([
    [{ working: 'sRGB' }, /working: sRGB is not linear/],
    [{ working: 'Nowhere' }, /Nowhere/],
    [{ colour: 1 }, /Unrecognized key: "colour"/],
    [{ entries: [{ ...beauty, mix: 2 }] }, /entries\.0\.mix/],
    [{ entries: [{ ...beauty, operation: 'weave' }] }, /entries\.0\.operation/],
    [{ entries: [{ ...beauty, pass: 'gone' }] }, /entries 1, gone.*has no pass "gone"/],
    [{ entries: [{ ...beauty, source: 'gone' }] }, /source is no longer/],
    [{ entries: [{ ...beauty, adjustments: [{ kind: 'exposure', stop: 1 }] }] }, /entries\.0\.adjustments\.0/],
    [{ entries: [{ ...beauty, matte: 'm' }], mattes: { m: { kind: 'invert', of: 'm' } } }, /depends on itself/],
    [{ sources: { render: { pattern: 'none.####.exr', space: 'ACEScg' } } }, /there are no files none\.####\.exr/],
    [
      { sources: { render: { pattern: 'in.####.exr', space: 'Nowhere' } } },
      /sources\.render: there is no colour space "Nowhere"/,
    ],
    [{ alphaFrom: { source: 'render', pass: 'gone' } }, /alphaFrom: there is no pass "gone"/],
    [{ outputs: [{ ...output, space: 'Nowhere' }] }, /outputs, a: there is no colour space "Nowhere"/],
    [{ outputs: [{ ...output, space: null }] }, /outputs, a: through the viewing, but the job has none/],
    [{ outputs: [{ ...output, sampleType: 'uint8' }] }, /outputs, a: exr has no samples of type uint8/],
    [{ outputs: [{ ...output, compression: 'squeeze' }] }, /outputs\.0\.compression/],
    [{ outputs: [{ ...output, kind: 'png' }] }, /PNG files cannot be tagged for ACEScg/],
    [
      { viewing: seen, outputs: [{ ...shown, kind: 'movie' }] },
      /refused\/a\.####\.png has hash marks, and a movie is one file/,
    ],
    [
      { viewing: seen, outputs: [{ ...shown, kind: 'movie', codec: 'vp9', pattern: 'refused/a.mp4' }] },
      /a movie of this codec ends in \.webm/,
    ],
    [
      { viewing: seen, outputs: [{ ...shown, kind: 'movie', codec: 'prores', pattern: 'refused/a.mov' }] },
      /prores movies cannot say codes of sRGB/,
    ],
    [
      { viewing: { display: 'Rec.2100 PQ', view: 'Untoned' }, outputs: [{ ...shown, kind: 'jpeg' }] },
      /JPEG files cannot say codes of Rec\.2100 PQ/,
    ],
    [{ viewing: seen, outputs: [{ ...shown, quality: 50 }] }, /png has no quality/],
    [{ viewing: seen, outputs: [{ ...shown, codec: 'h264' }] }, /png has no codec/],
    [
      { viewing: seen, outputs: [{ ...shown, kind: 'movie', alpha: true, pattern: 'refused/a.mp4' }] },
      /movie has no choice of alpha/,
    ],
    [{ outputs: [{ ...output, codes: 'srgb' }] }, /codes are of pictures through the viewing/],
    [{ outputs: [{ ...output, kind: 'aces' }] }, /it takes no space/],
    [{ outputs: [{ ...output, crop: { x: 3, y: 0, width: 2, height: 2 } }] }, /does not lie in 4×2/],
    [{ viewing: seen, outputs: [{ ...shown, kind: 'movie', width: 3, pattern: 'refused/a.mp4' }] }, /has an odd side/],
    [{ outputs: [{ ...output, kind: 'dpx' }] }, /a DPX holds a log curve/],
    [{ frames: [1001, 1002], outputs: [{ ...output, pattern: 'refused/a.exr' }] }, /all frames would be one file/],
    [{ outputs: [output, { ...output, name: 'b' }] }, /is also written by a/],
    [{ size: [8, 8], sources: {}, entries: [{ kind: 'sparkle' }] }, /entries\.0/],
  ])('%j is refused whole', async (job, words) => {
    const { status, stderr, reports } = await run(job);
    expect([status, reports]).toEqual([1, []]);
    expect(stderr).toMatch(words);
    expect(stderr.trim().split('\n')).toHaveLength(1);
    expect(existsSync(join(top, 'refused'))).toBe(false);
  });
});

describe('outputs of every kind', () => {
  // Values within what a display shows: the file's are 0.5 and above.
  const dim = { ...beauty, adjustments: [{ kind: 'exposure', stops: -4 }] };
  const viewing = { display: 'sRGB', view: 'Untoned' };
  const fillOf = (v: number) => ({ kind: 'fill', colour: [v, v, v], alpha: 1 });
  /** What the sun's first pixel is in a display's codes, by IEC 61966-2-1. */
  const srgb = (l: number) => (l <= 0.0031308 ? 12.92 * l : 1.055 * l ** (1 / 2.4) - 0.055);
  const every = (name: string) => ({
    frames: [1001, 1002],
    working: 'Linear Rec.709',
    sources: { render: { pattern: 'in.####.exr', space: 'Linear Rec.709', alpha: 'none' } },
    viewing,
    entries: [dim],
    outputs: [
      { name: 'aces', kind: 'aces', pattern: `${name}/aces.####.exr` },
      { name: 'dpx', kind: 'dpx', space: 'S-Log3 S-Gamut3.Cine', pattern: `${name}/log.####.dpx` },
      { name: 'jpeg', kind: 'jpeg', quality: 100, pattern: `${name}/seen.####.jpg` },
      { name: 'tiff', kind: 'tiff', sampleType: 'uint16', pattern: `${name}/seen.####.tif` },
      { name: 'sheet', kind: 'sheet', width: 8, columns: 1, pattern: `${name}/sheet.png` },
      { name: 'video', kind: 'movie', codes: 'bt1886', codec: 'prores', pattern: `${name}/seen.mov` },
      { name: 'review', kind: 'movie', quality: 100, pattern: `${name}/seen.mp4` },
      {
        name: 'covered',
        kind: 'movie',
        codes: 'bt1886',
        codec: 'prores',
        alpha: true,
        // Odd: with alpha nothing is halved.
        width: 15,
        pattern: `${name}/covered.mov`,
      },
    ],
  });

  test('are written as the application writes them, and read by other programs', async () => {
    const { status, reports, stderr } = await run(every('kinds'));
    expect([status, stderr, reports.map((r) => r.frames.map((f) => f.ok).join())]).toEqual([
      0,
      '',
      Array(8).fill('true,true'),
    ]);
    const at = (file: string) => join(top, 'kinds', file);
    const [aces, dpx, tiff] = read(at('aces.1001.exr'), at('log.1001.dpx'), at('seen.1001.tif'));
    const first = [0.5, 0.25, 0.125].map((v) => v / 16);
    // Rec.709 to AP0 by the Academy's matrix (ACES TB-2014-004; values from memory, to four digits).
    const ap0 = [0.4397 * first[0]! + 0.383 * first[1]! + 0.1774 * first[2]!];
    expect(aces!.planes[aces!.channels.indexOf('R')]![0]).toBeCloseTo(ap0[0]!, 3);
    expect(aces!.tags.acesImageContainerFlag).toBe('1');
    expect(dpx!.tags.ImageDescription).toBe('S-Log3 S-Gamut3.Cine');
    tiff!.planes.forEach((p, c) => expect(p[0]).toBeCloseTo(srgb(first[c]!), 4));
    expect(tiff!.tags.profile).toBe('sRGB');
    const jpeg = read(at('seen.1001.jpg'))[0]!;
    jpeg.planes.forEach((p, c) => expect(Math.abs(p[0]! - srgb(first[c]!))).toBeLessThan(3 / 255));
    const probe = (file: string) =>
      execFileSync(
        'ffprobe',
        [
          '-v',
          'error',
          '-select_streams',
          'v',
          '-show_entries',
          'stream=codec_name,color_transfer,nb_frames',
          '-of',
          'csv=p=0',
          at(file),
        ],
        { encoding: 'utf8' },
      ).trim();
    expect(['seen.mov', 'seen.mp4', 'covered.mov'].map(probe)).toEqual([
      'prores,bt709,2',
      'h264,iec61966-2-1,2',
      'prores,bt709,2',
    ]);
    expect(readdirSync(join(top, 'kinds')).filter((n) => n.startsWith('.'))).toEqual([]);
  });

  test('are verified by the job that they were made from, and by no other', async () => {
    const flat = (v: number) => ({
      ...every('proved'),
      sources: {},
      size: [16, 16],
      entries: [{ ...fillOf(v), operation: 'plus' }],
    });
    const { status, job } = await run(flat(0.25));
    expect(status).toBe(0);
    const files = [
      'aces.1001.exr',
      'log.1001.dpx',
      'seen.1001.jpg',
      'seen.1001.tif',
      'sheet.png',
      'seen.mov',
      'seen.mp4',
      'covered.mov',
    ];
    const verified = (by: string) =>
      Promise.all(files.map(async (f) => (await verifyByJob(join(top, 'proved', f), by)).readBacks));
    const own = await verified(job);
    expect(own.map((r) => r.map((x) => x.proved))).toEqual([
      [true],
      [true],
      [true],
      [true],
      [true, true],
      [true, true],
      [true, true],
      [true, true],
    ]);
    // A quarter of a stop more is another picture.
    const brighter = join(top, 'brighter.json');
    const changed = JSON.parse(readFileSync(job, 'utf8')) as object;
    writeFileSync(brighter, JSON.stringify({ ...changed, ...flat(0.3) }));
    expect((await verified(brighter)).flat().map((x) => x.proved)).toEqual(Array(12).fill(false));
    const elsewhere = join(top, 'elsewhere.exr');
    copyFileSync(join(top, 'proved/aces.1002.exr'), elsewhere);
    await expect(verifyByJob(elsewhere, job)).rejects.toThrow('say which with --output and --frame');
    const said = await verifyByJob(elsewhere, job, { output: 'aces', frame: 1002 });
    expect(said).toMatchObject({ output: 'aces', frame: 1002, readBacks: [{ proved: true }] });
  });

  test('in another size, of a part and of every nth frame: light is what the filter leaves of it', async () => {
    const own = { kind: 'exr', space: 'Linear Rec.709', sampleType: 'float' };
    const { status, stderr, folder } = await run({
      ...every('sized'),
      frames: [1001, 1003],
      entries: [{ ...fillOf(0.25), operation: 'plus' }],
      sources: {},
      size: [8, 4],
      outputs: [
        { ...own, name: 'small', width: 4, pattern: 'sized/small.####.exr' },
        { ...own, name: 'part', crop: { x: 2, y: 1, width: 3, height: 2 }, step: 2, pattern: 'sized/part.####.exr' },
        { name: 'seen', kind: 'png', sampleType: 'uint16', width: 6, pattern: 'sized/seen.####.png' },
        {
          ...own,
          name: 'in',
          crop: { x: 2, y: 1, width: 3, height: 2 },
          keepWindow: true,
          frames: [1002, 1004],
          step: 2,
          pattern: 'sized/in.####.exr',
        },
      ],
    });
    expect([status, stderr]).toEqual([0, '']);
    const at = (file: string) => join(folder, '../sized', file);
    const [small, part] = read(at('small.1002.exr'), at('part.1003.exr'));
    expect(small!.planes[0]).toHaveLength(4 * 2);
    for (const v of small!.planes[0]!) expect(v).toBeCloseTo(0.25, 6);
    expect(part!.planes[0]).toEqual(Array(6).fill(0.25));
    const inside = execFileSync('oiiotool', ['--info', '-v', at('in.1004.exr')], { encoding: 'utf8' });
    expect(inside).toMatch(/ 3 x +2, /);
    expect(inside).toMatch(/pixel data origin: x=2, y=1/);
    expect(inside).toMatch(/full\/display size: 8 x 4/);
    expect(readdirSync(at('.')).filter((n) => n.startsWith('in'))).toEqual(['in.1002.exr', 'in.1004.exr']);
    expect(readdirSync(at('.')).filter((n) => n.startsWith('part'))).toEqual(['part.1001.exr', 'part.1003.exr']);
    const seen = execFileSync('oiiotool', ['--info', at('seen.1001.png')], { encoding: 'utf8' });
    expect(seen).toMatch(/ 6 x +3, /);
  });

  test('of a movie whose frames fail nothing is written, and it is said why', async () => {
    const [movie] = every('part').outputs.slice(-1);
    const { status, reports, stderr } = await run({ ...every('part'), frames: [1002, 1003], outputs: [movie!] });
    expect([status, reports[0]!.frames.map((f) => f.ok)]).toEqual([1, [false, false]]);
    expect(stderr).toContain('no movie is made: frame 1003 failed.');
    expect(existsSync(join(top, 'part/seen.mp4'))).toBe(false);
    expect(readdirSync(join(top, 'part'))).toEqual([]);
  });
});
