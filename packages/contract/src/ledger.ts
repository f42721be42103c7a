import { z } from 'zod';
import {
  adjustments,
  blends,
  finishes,
  mattes,
  keyedSchema,
  shapeOf,
  type Adjustment,
  type Entry,
  type LedgerDocument,
  type Matte,
} from '@june-haze/core';

// The document of Build. What each adjustment, matte and finish takes is derived from the registry; a kind that this version does not know,
// or a number that is out of range, is kept as it is and named at its row by the compiler: the rest of the ledger goes on.

const texts = z.string().max(200);
const named = z.string().max(200).nullable().optional();
const kindsOf = (list: readonly { readonly kind: string }[]) => list.map((d) => d.kind) as [string, ...string[]];

/** What an adjustment holds, strictly: for what is made anew, and for jobs. */
export const adjustmentSchema = z.discriminatedUnion(
  'kind',
  adjustments.map((d) =>
    z.strictObject({
      kind: z.literal(d.kind),
      enabled: z.boolean().default(true),
      ...(d.choosesSpace ? { space: named } : {}),
      matte: named,
      ...shapeOf(d.parameters),
    }),
  ) as unknown as readonly [z.ZodObject, ...z.ZodObject[]],
) as unknown as z.ZodType<Adjustment>;

export const matteSchema = z.discriminatedUnion(
  'kind',
  mattes.map((d) => z.strictObject({ kind: z.literal(d.kind), ...shapeOf(d.parameters) })) as unknown as readonly [
    z.ZodObject,
    ...z.ZodObject[],
  ],
) as unknown as z.ZodType<Matte>;

/** The fields of a finish's own kind, by its kind; `adjusts`: it has adjustments besides. */
export const finishShapes = finishes.map((d) => ({
  finish: z.literal(d.kind),
  adjusts: 'adjusts' in d,
  ...shapeOf(d.parameters),
}));
export const operationSchema = z.enum(kindsOf(blends));
export const mixSchema = keyedSchema([0, 1]);

/** Any adjustment, matte or finish: what it holds is the compiler's to judge. */
const anyKind = z.looseObject({ kind: z.string().max(64) });

const common = {
  id: z.string().min(1).max(64),
  name: texts,
  enabled: z.boolean(),
  mix: keyedSchema([-1e9, 1e9]),
  matte: named,
  note: z.string().max(2000).optional(),
};
const picture = {
  ...common,
  operation: z.string().max(64),
  adjustments: z.array(anyKind).max(64),
};
const keyed = keyedSchema([-1e9, 1e9]);

export const entrySchema: z.ZodType<Entry> = z.lazy(() =>
  z.discriminatedUnion('kind', [
    z.object({
      ...picture,
      kind: z.literal('pass'),
      sourceId: z.string(),
      pass: z.string(),
      alphaFrom: z.string().optional(),
    }),
    z.object({ ...picture, kind: z.literal('fill'), colour: z.tuple([keyed, keyed, keyed]), alpha: keyed }),
    z.object({ ...picture, kind: z.literal('subtotal'), entries: z.array(entrySchema).max(200) }),
    z.looseObject({
      ...common,
      kind: z.literal('finish'),
      finish: z.string().max(64),
      adjustments: z.array(anyKind).max(64).optional(),
    }),
  ]),
) as unknown as z.ZodType<Entry>;

/** How a picture is built: the one document of Build. */
export const ledgerDocumentSchema = z.object({
  version: z.union([z.literal(1), z.literal(2)]),
  entries: z.array(entrySchema).max(500),
  mattes: z.record(texts, anyKind).optional(),
  alphaFrom: z.object({ sourceId: z.string(), pass: z.string() }).nullable().optional(),
  balanceAgainst: z.object({ sourceId: z.string(), pass: z.string() }).optional(),
}) as unknown as z.ZodType<LedgerDocument>;

export const ledgerStateSchema = z.object({
  /** The revision in force: a change names it as its base. */
  revision: z.number().int(),
  document: ledgerDocumentSchema,
  canUndo: z.boolean(),
  canRedo: z.boolean(),
  /** What the last change was, in words. */
  summary: z.string(),
});
export type LedgerState = z.infer<typeof ledgerStateSchema>;

export const ledgerChangeSchema = z.object({
  base: z.number().int(),
  document: ledgerDocumentSchema,
  summary: z.string().max(200),
});
export type LedgerChange = z.infer<typeof ledgerChangeSchema>;
export const ledgerStepSchema = z.object({ base: z.number().int() });
