/** What a picture worker keeps between pictures at most; more is thrown away together. */
export const keptLimit = 192 << 20;
