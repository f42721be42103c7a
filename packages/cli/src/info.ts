import { openExr, type AttributeValue } from '@june-haze/core/opening';
import { openSource } from '@june-haze/files/byteSource';

/** JSON knows no NaN and no infinity: they become strings. */
function strict(value: AttributeValue | Record<string, unknown>): unknown {
  if (typeof value === 'number') return Number.isFinite(value) ? value : String(value);
  if (value instanceof Uint8Array)
    return { bytes: value.length, base64: Buffer.from(value.subarray(0, 4096)).toString('base64') };
  if (Array.isArray(value)) return value.map((v) => strict(v as AttributeValue));
  if (value && typeof value === 'object')
    return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, strict(v as AttributeValue)]));
  return value;
}

export async function info(path: string, options: { json?: boolean }): Promise<void> {
  const source = await openSource(path);
  try {
    const file = await openExr(source);
    const parts = file.parts.map((p) => ({
      index: p.index,
      name: p.name,
      type: p.type,
      compression: p.compression,
      dataWindow: [p.dataWindow.xMin, p.dataWindow.yMin, p.dataWindow.xMax, p.dataWindow.yMax],
      displayWindow: [p.displayWindow.xMin, p.displayWindow.yMin, p.displayWindow.xMax, p.displayWindow.yMax],
      channels: p.channels.map(({ name, type, xSampling, ySampling }) => ({ name, type, xSampling, ySampling })),
      attributes: Object.fromEntries([...p.attributes].map(([name, a]) => [name, strict(a.value)])),
    }));
    if (options.json) {
      process.stdout.write(`${JSON.stringify({ file: path, parts })}\n`);
      return;
    }
    for (const p of parts) {
      process.stdout.write(
        `part ${p.index} ${p.name} ${p.type}, ${p.compression}, data ${p.dataWindow.join(' ')}, display ${p.displayWindow.join(' ')}\n`,
      );
      for (const c of p.channels) process.stdout.write(`  ${c.name} ${c.type}\n`);
    }
  } finally {
    await source.close();
  }
}
