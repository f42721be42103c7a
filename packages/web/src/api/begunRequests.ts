const begun = new Map<string, Promise<Response>>();
/** An answer that nobody took by then is too old. */
const keptFor = 5000;

/** Asks for something before it is known how it will be read. */
export function beginRequest(path: string): Promise<Response> {
  const answer = fetch(`/api${path}`);
  // Whoever takes it hears of a failure.
  answer.catch(() => undefined);
  begun.set(path, answer);
  setTimeout(() => begun.delete(path), keptFor);
  return answer;
}

/** An answer that was begun; it is taken once. */
export function takeBegun(path: string): Promise<Response> | undefined {
  const answer = begun.get(path);
  begun.delete(path);
  return answer;
}
