import type { CodeEncoding } from '../colour/displayCodes.ts';

/** What a display's codes are by the words of its name and of its view's space (common practice of configs, no source); undefined when they do not say. */
export function encodingInWords(names: string): CodeEncoding | undefined {
  const words = names.toLowerCase();
  const says = (pattern: RegExp) => pattern.test(words);
  if (says(/hlg/)) return says(/p3/) ? undefined : 'hlg';
  if (says(/pq|2084/)) return says(/p3/) ? undefined : 'pq';
  // SDR of BT.2020 primaries is codes that no file of ours can say.
  if (says(/2020|2100|hdr/)) return undefined;
  if (says(/p3/)) {
    // A white of DCI's own is another than D65.
    if (says(/dci(?!.*d65)|d60/)) return undefined;
    if (says(/2\.6|cinema|dcdm|theat/)) return 'p3Cinema';
    return says(/display.?p3|srgb/) ? 'displayP3' : undefined;
  }
  if (says(/srgb/)) return 'srgb';
  return says(/1886|rec\.?\s?709|bt\.?\s?709/) ? 'bt1886' : undefined;
}
