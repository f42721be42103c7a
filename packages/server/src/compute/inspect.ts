import { nameEvidence, weighEvidence, type Evidence, type FileFacts } from '@june-haze/core';
import { readFacts } from '@june-haze/files';

export interface Inspection {
  readonly facts: FileFacts;
  readonly guess: string | undefined;
  readonly evidence: readonly Evidence[];
}

/** Reads a file's header and says what is in it. */
export async function inspect(path: string, name: string): Promise<Inspection> {
  const facts = await readFacts(path, name);
  const { guess, evidence } = weighEvidence([...facts.evidence, ...nameEvidence(name)]);
  return { facts, guess, evidence };
}
