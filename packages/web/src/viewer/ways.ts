/** How two pictures are seen: one alone, by turns, parted by a line, beside each other, or what is between them. */
export const ways = ['alone', 'flip', 'wipe', 'side', 'difference', 'codes', 'deltaE'] as const;
export type Way = (typeof ways)[number];

export const wayNames: Readonly<Record<Way, { readonly label: string; readonly says: string }>> = {
  alone: { label: 'Alone', says: 'One picture' },
  flip: { label: 'Flip', says: 'By turns: hold or tap F' },
  wipe: { label: 'Wipe', says: 'Parted by a line that is dragged and turned' },
  side: { label: 'Side by side', says: 'Beside each other, moved and zoomed together' },
  difference: { label: 'Difference', says: 'How far codes lie apart, times a number' },
  codes: { label: 'Code values', says: 'The largest code difference of each pixel, in bands' },
  deltaE: { label: 'CIEDE2000', says: 'The difference that is seen, in bands' },
};

/** What a difference may be multiplied by. */
export const differenceTimes = [1, 2, 4, 8, 16, 32, 64, 128, 256] as const;

/** How a waveform is drawn: its brightness, its channels over each other, or beside each other. */
export const scopeKinds = ['brightness', 'overlaid', 'parade'] as const;
export type ScopeKind = (typeof scopeKinds)[number];
