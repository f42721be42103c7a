import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeBundle } from '@june-haze/core';
import { ZipFolder } from '../src/zipFolder.ts';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'june-zip-'));
});
afterAll(() => rmSync(folder, { recursive: true }));

const text = (bytes: Uint8Array | undefined) => bytes && new TextDecoder().decode(bytes);

test('an archive of ours gives each file when it is asked for', () => {
  const path = join(folder, 'ours.zip');
  const files = new Map([
    ['config.ocio', new TextEncoder().encode('roles: {}'.repeat(500))],
    ['luts/dämmerung.cube', new TextEncoder().encode('LUT_1D_SIZE 2')],
    ['empty', new Uint8Array()],
  ]);
  writeFileSync(path, writeBundle(files));
  const zip = new ZipFolder(path);
  expect([...zip.keys()].sort()).toEqual([...files.keys()].sort());
  for (const [name, bytes] of files) expect([name, text(zip.get(name))]).toEqual([name, text(bytes)]);
  expect(zip.get('luts/none')).toBeUndefined();
});

test('an archive made by Python’s own library, stored and packed, with a comment', () => {
  const path = join(folder, 'python.zip');
  const lines = [
    'import sys, zipfile',
    'with zipfile.ZipFile(sys.argv[1], "w") as z:',
    '    z.writestr("stored.txt", "as it is" * 9, zipfile.ZIP_STORED)',
    '    z.writestr("packed.txt", "smaller" * 999, zipfile.ZIP_DEFLATED)',
    '    z.comment = b"made elsewhere PK\\x05\\x06 almost"',
  ];
  execFileSync('/usr/bin/python3', ['-c', lines.join('\n'), path]);
  const zip = new ZipFolder(path);
  expect(text(zip.get('stored.txt'))).toBe('as it is'.repeat(9));
  expect(text(zip.get('packed.txt'))).toBe('smaller'.repeat(999));
});

test('what is gone, no archive or cut off is said in a sentence', () => {
  expect(() => new ZipFolder(join(folder, 'none.zip'))).toThrow(/none\.zip.*not in the Library/);
  const path = join(folder, 'torn.zip');
  writeFileSync(path, writeBundle(new Map([['a', new TextEncoder().encode('a'.repeat(99))]])));
  truncateSync(path, 60);
  expect(() => new ZipFolder(path)).toThrow(/torn\.zip.*no zip archive/);
  // An archive that rots on the disk: its directory is whole, a file in it is not.
  const bytes = writeBundle(new Map([['b', new TextEncoder().encode('b'.repeat(9999))]]));
  bytes.fill(0xff, 31, 50);
  writeFileSync(path, bytes);
  expect(() => new ZipFolder(path).get('b')).toThrow(/torn\.zip.*"b" in it is damaged/);
});
