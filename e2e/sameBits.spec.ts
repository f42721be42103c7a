import { createHash } from 'node:crypto';
import { expect, test, type Page } from '@playwright/test';
import { build } from 'esbuild';
import { configResults } from './configResults.ts';
import { kernelResults } from './kernelResults.ts';
import { ledgerResults } from './ledgerResults.ts';

type Results = Record<string, number[]>;

/** Runs an exported function of a module in an empty page of Chromium. */
async function inPage(page: Page, module: string, name: string): Promise<Results> {
  const { outputFiles } = await build({
    entryPoints: [module],
    bundle: true,
    format: 'iife',
    globalName: 'there',
    write: false,
    target: 'es2023',
  });
  await page.goto('about:blank');
  await page.addScriptTag({ content: outputFiles[0]!.text });
  return page.evaluate(
    (wanted) => (globalThis as unknown as { there: Record<string, () => Results> }).there[wanted]!(),
    name,
  );
}
const digest = (bits: number[]) => createHash('sha256').update(Uint32Array.from(bits)).digest('hex');

test('every kernel and its twin give the same bits in Chromium as in Node', async ({ page }) => {
  const there = await inPage(page, 'e2e/kernelResults.ts', 'kernelResults');
  const here = kernelResults();
  expect(Object.keys(there)).toEqual(Object.keys(here));
  for (const name of Object.keys(here))
    expect({ name, bits: digest(there[name]!) }).toEqual({ name, bits: digest(here[name]!) });
});

test('a whole ledger’s float total and its view are the same bits in Chromium as in Node, however it is split', async ({
  page,
}) => {
  const here = ledgerResults();
  const there = await inPage(page, 'e2e/ledgerResults.ts', 'ledgerResults');
  const [first] = Object.values(here);
  // The material reaches both signs and many magnitudes: the comparison compares something.
  const magnitudes = new Set(first!.map((b) => b >>> 23));
  expect(magnitudes.size).toBeGreaterThan(30);
  for (const [name, bits] of [...Object.entries(here), ...Object.entries(there)])
    expect({ name, bits: digest(bits) }).toEqual({ name, bits: digest(first!) });
  expect(Object.keys(there)).toHaveLength(6);
});

test('conversions, views and looks of a config are the same bits in Chromium as in Node, by kernels and by twins', async ({
  page,
}) => {
  const here = configResults();
  const there = await inPage(page, 'e2e/configResults.ts', 'configResults');
  expect(Object.keys(there)).toEqual(Object.keys(here));
  for (const name of Object.keys(here))
    expect({ name, bits: digest(there[name]!) }).toEqual({ name, bits: digest(here[name]!) });
  const byKernels = Object.keys(here).filter((n) => n.startsWith('wasm'));
  for (const name of byKernels)
    expect({ name, bits: digest(here[name]!) }).toEqual({ name, bits: digest(here[name.replace('wasm', 'twin')]!) });
});
