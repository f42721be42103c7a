/** An id for a new row: 128 random bits. `crypto.randomUUID` is missing where the page comes over plain HTTP from another machine. */
export const newId = (): string =>
  Array.from(crypto.getRandomValues(new Uint8Array(16)), (b) => b.toString(16).padStart(2, '0')).join('');
