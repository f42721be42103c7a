import { z } from 'zod';
import { ledgerDocumentSchema } from './ledger.ts';

/** What a total and its beauty have between them; see core's `Balance`. */
const figures = {
  largest: z.number(),
  at: z.tuple([z.number(), z.number()]),
  mean: z.number(),
  share: z.number(),
  overShare: z.number(),
  balanced: z.boolean(),
};
const figuresSchema = z.object(figures);
export type BalanceFigures = z.infer<typeof figuresSchema>;

/** The balance of one frame, for one revision of the ledger. */
export const balanceSchema = z.object({
  frame: z.number().int(),
  revision: z.number().int(),
  ...figures,
  /** Of the passes as they came, where the ledger does more with them than add them up. */
  asCame: figuresSchema.optional(),
  /** Of a render that was packed with loss, where it does not balance to half rounding: what its packing takes from the total. */
  packing: z.object({ codec: z.string(), mean: z.number(), largest: z.number(), within: z.boolean() }).optional(),
});
export type BalanceProof = z.infer<typeof balanceSchema>;

export const balanceRequestSchema = z.object({ frame: z.number().int() });
export const frameQuerySchema = z.object({ frame: z.coerce.number().int() });

const faultSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('missing'), pass: z.string(), by: z.string().optional() }),
  z.object({ kind: z.literal('twice'), pass: z.string() }),
  z.object({ kind: z.literal('exposure'), pass: z.string(), stops: z.number() }),
]);

/** What keeps the passes, as they came, from their beauty; see core's `FaultsFound`. */
export const balanceFaultsSchema = z.object({
  asCame: figuresSchema,
  faults: z.array(faultSchema),
  explained: z.number(),
  whole: z.boolean(),
});
export type BalanceFaults = z.infer<typeof balanceFaultsSchema>;

/** A way to begin a ledger, tried on a frame. */
export const startingPointSchema = z.object({
  title: z.string(),
  /** The source that it is built from, where there are several. */
  of: z.string().optional(),
  /** What it adds up, whether that balances, and what was left out for it. */
  words: z.string(),
  document: ledgerDocumentSchema,
  /** Undefined where there is nothing to balance against. */
  figures: figuresSchema.optional(),
  /** A small PNG through the viewing, as a data URL; left out where it could not be tried. */
  picture: z.string().optional(),
});
export type StartingPoint = z.infer<typeof startingPointSchema>;
export const startingPointsSchema = z.array(startingPointSchema);
