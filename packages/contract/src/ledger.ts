import { z } from 'zod';
import type { Adjustment, Entry, LedgerDocument } from '@june-haze/core';

const stops = z.number().min(-20).max(20);
const factor = z.number().min(0).max(1000);

export const adjustmentSchema: z.ZodType<Adjustment> = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('exposure'), enabled: z.boolean(), stops }),
  z.object({ kind: z.literal('gain'), enabled: z.boolean(), red: factor, green: factor, blue: factor }),
  z.object({
    kind: z.literal('look'),
    enabled: z.boolean(),
    look: z.string().max(500).nullable(),
    lookFile: z.object({ id: z.string(), name: z.string(), space: z.string() }).nullable(),
  }),
]);

const common = {
  id: z.string().min(1).max(64),
  name: z.string().max(200),
  enabled: z.boolean(),
  operation: z.enum(['plus', 'minus', 'multiply', 'over']),
  mix: z.number().min(0).max(1),
  adjustments: z.array(adjustmentSchema).max(32),
  note: z.string().max(2000).optional(),
};

export const entrySchema: z.ZodType<Entry> = z.lazy(() =>
  z.discriminatedUnion('kind', [
    z.object({
      ...common,
      kind: z.literal('pass'),
      sourceId: z.string(),
      pass: z.string(),
      alphaFrom: z.string().optional(),
    }),
    z.object({
      ...common,
      kind: z.literal('fill'),
      colour: z.tuple([z.number(), z.number(), z.number()]),
      alpha: z.number().min(0).max(1),
    }),
    z.object({ ...common, kind: z.literal('subtotal'), entries: z.array(entrySchema).max(200) }),
  ]),
);

/** How a picture is built: the one document of Build. */
export const ledgerDocumentSchema: z.ZodType<LedgerDocument> = z.object({
  version: z.literal(1),
  entries: z.array(entrySchema).max(500),
  alphaFrom: z.object({ sourceId: z.string(), pass: z.string() }).nullable().optional(),
  balanceAgainst: z.object({ sourceId: z.string(), pass: z.string() }).optional(),
});

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
