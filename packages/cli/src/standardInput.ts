/** All of standard input as text. */
export async function standardInput(): Promise<string> {
  const pieces: Buffer[] = [];
  for await (const piece of process.stdin) pieces.push(piece as Buffer);
  return Buffer.concat(pieces).toString('utf8');
}
