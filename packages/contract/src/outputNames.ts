import { z } from 'zod';

/** What may stand in the names of an output's files for what is not known before, and what each becomes. */
export const nameWords = {
  '{shot}': 'the shot’s name',
  '{output}': 'the output’s name',
  '{space}': 'what its numbers are: a space, a display or its codes',
  '{size}': 'width and height of the files',
  '{rate}': 'frames a second',
  '{pass}': 'the pass, where each has a file of its own',
} as const;
export type NameWord = keyof typeof nameWords;

/** Where files go and what they are called unless somebody says otherwise. */
export const usualFolder = '{shot}';
export const usualFileName = '{shot}_{output}_{space}.####';

/** A word that stands for something. */
export const namedWord = /\{[^{}]*\}/g;
/** What is left of a name without the words that stand for something must be what every file system takes. */
const plainText = /^[\p{L}\p{M}\p{N} ._-]*$/u;

/** Why a name cannot be that of a folder or a file, as a sentence; undefined when it can. */
function whyNoName(name: string, { marks }: { readonly marks: boolean }): string | undefined {
  const unknown = (name.match(namedWord) ?? []).find((w) => !(w in nameWords));
  if (unknown) return `There is nothing called ${unknown}; there are ${Object.keys(nameWords).join(', ')}.`;
  const text = name.replace(namedWord, 'x');
  if (!marks && text.includes('#')) return 'Hash marks stand for the frame, and belong into the names of files.';
  if ((text.match(/#+/g) ?? []).length > 1) return 'Hash marks stand for the frame; write them once.';
  if (!plainText.test(text.replace(/#+/, 'x')))
    return 'Use letters, digits, spaces, . - and _, and words in braces like {shot}.';
  if (text.startsWith('.') || text.endsWith('.') || text.endsWith(' '))
    return 'A name neither begins with a dot nor ends in one.';
  return text === '' ? 'A name is missing.' : undefined;
}

const checked = (why: (name: string) => string | undefined) => (context: z.core.ParsePayload<string>) => {
  const message = why(context.value);
  if (message !== undefined) context.issues.push({ code: 'custom', message, input: context.value });
};

/** Folders below the output folder, one in the other with slashes between. */
export const outputFolderSchema = z
  .string()
  .trim()
  .max(200)
  .check(
    checked((path) => {
      const parts = path.split('/');
      if (parts.length > 8) return 'Eight folders, one in the other, are enough.';
      return parts.map((p) => whyNoName(p, { marks: false })).find((why) => why !== undefined);
    }),
  );

/** The name of a file without its ending; hash marks stand for the frame, as many as it has digits. */
export const fileNameSchema = z
  .string()
  .trim()
  .max(200)
  .check(
    checked((name) => (name.includes('/') ? 'Folders have a field of their own.' : whyNoName(name, { marks: true }))),
  );
