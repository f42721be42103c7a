import { createHash } from 'node:crypto';
import { expect, test } from '@playwright/test';
import { build } from 'esbuild';
import { kernelResults } from './kernelResults.ts';

test('every kernel and its twin give the same bits in Chromium as in Node', async ({ page }) => {
  const { outputFiles } = await build({
    entryPoints: ['e2e/kernelResults.ts'],
    bundle: true,
    format: 'iife',
    globalName: 'kernels',
    write: false,
    target: 'es2023',
  });
  await page.goto('about:blank');
  await page.addScriptTag({ content: outputFiles[0]!.text });
  const there = await page.evaluate(() =>
    (globalThis as unknown as { kernels: { kernelResults(): Record<string, number[]> } }).kernels.kernelResults(),
  );
  const here = kernelResults();
  const digest = (bits: number[]) => createHash('sha256').update(Uint32Array.from(bits)).digest('hex');
  expect(Object.keys(there)).toEqual(Object.keys(here));
  for (const name of Object.keys(here))
    expect({ name, bits: digest(there[name]!) }).toEqual({ name, bits: digest(here[name]!) });
});
