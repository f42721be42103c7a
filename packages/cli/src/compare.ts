import { asFloats, compareSamples, offeredChannels } from '@june-haze/core';
import { readWhole, withExr } from './samples.ts';

/** Compares all channels the two files share, by part and name; exits with 1 when anything differs. */
export async function compare(a: string, b: string, options: { json?: boolean }): Promise<void> {
  const result = await withExr(a, (first) =>
    withExr(b, async (second) => {
      const channels: Record<string, unknown>[] = [];
      const onlyIn: { a: string[]; b: string[] } = { a: [], b: [] };
      for (const part of first.parts) {
        const other = second.parts.find((p) => p.name === part.name) ?? second.parts[part.index];
        for (const { name } of offeredChannels(part)) {
          if (!(other && offeredChannels(other).some((c) => c.name === name))) {
            onlyIn.a.push(name);
            continue;
          }
          const [x, y] = [await readWhole(first, part.index, [name]), await readWhole(second, other.index, [name])];
          if (x.width !== y.width || x.height !== y.height)
            throw new Error(`${a} and ${b} differ in size: ${x.width}×${x.height} and ${y.width}×${y.height}.`);
          const d = compareSamples(asFloats(x.planes[0]!), asFloats(y.planes[0]!));
          channels.push({
            part: part.index,
            name,
            samples: d.samples,
            differing: d.samples - d.equal,
            largest: Number.isFinite(d.largest) ? d.largest : 'Infinity',
            mean: Number.isFinite(d.mean) ? d.mean : 'Infinity',
            at: [d.at % x.width, Math.floor(d.at / x.width)],
          });
        }
        onlyIn.b.push(
          ...((other && offeredChannels(other))
            ?.filter((c) => !offeredChannels(part).some((p) => p.name === c.name))
            .map((c) => c.name) ?? []),
        );
      }
      const equal = channels.every((c) => c.differing === 0) && !onlyIn.a.length && !onlyIn.b.length;
      return { equal, channels, onlyIn };
    }),
  );
  if (options.json) process.stdout.write(`${JSON.stringify(result)}\n`);
  else {
    for (const c of result.channels)
      process.stdout.write(
        `${String(c.name)}: ${String(c.differing)} of ${String(c.samples)} samples differ, at most by ${String(c.largest)}\n`,
      );
    process.stdout.write(result.equal ? 'equal\n' : 'different\n');
  }
  if (!result.equal) process.exitCode = 1;
}
