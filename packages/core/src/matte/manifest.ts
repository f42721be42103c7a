import { idHash } from './idHash.ts';

/** Whether a header's attribute holds the names behind IDs. */
export const isManifest = (attribute: string): boolean => /^cryptomatte\/[^/]+\/manifest$/.test(attribute);

/** Whether it names the file that holds them, beside its own. */
export const isManifestFile = (attribute: string): boolean => /^cryptomatte\/[^/]+\/manif_file$/.test(attribute);
/** Whether it speaks of a set of IDs at all. */
export const isOfIds = (attribute: string): boolean => attribute.startsWith('cryptomatte/');

/**
 * Names by their IDs as floats, of all manifests in a header's attributes: Cryptomatte specification 1.2, a JSON object of names and hashes
 * in hexadecimal. What is no such object is passed over: an ID without a name is still an ID.
 */
export function idNames(attributes: Readonly<Record<string, string>>): Map<number, string> {
  const names = new Map<number, string>();
  for (const [attribute, text] of Object.entries(attributes))
    if (isManifest(attribute)) for (const name of manifestNames(text)) names.set(idHash(name).float, name);
  return names;
}

function manifestNames(text: string): string[] {
  try {
    const parsed: unknown = JSON.parse(text);
    return typeof parsed === 'object' && parsed !== null ? Object.keys(parsed) : [];
  } catch {
    return [];
  }
}
