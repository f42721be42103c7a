import { z } from 'zod';

export const stages = ['intake', 'match', 'build', 'output'] as const;
export type Stage = (typeof stages)[number];

export const proofStates = ['proved', 'unproved', 'differs', 'fails'] as const;
export type ProofState = (typeof proofStates)[number];

/** A stage's proof, rolled up to a shape and a short figure. */
export const stageProofSchema = z.object({ state: z.enum(proofStates), figure: z.string() });
export type StageProof = z.infer<typeof stageProofSchema>;
export const stageProofsSchema = z.object({
  intake: stageProofSchema,
  match: stageProofSchema,
  build: stageProofSchema,
  output: stageProofSchema,
});
