import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { z } from 'zod';

const storedSchema = z.object({ sha256: z.string().regex(/^[0-9a-f]{64}$/) });

/** Addresses that only this machine's own programs reach. */
export const isLoopback = (host: string): boolean => ['127.0.0.1', 'localhost', '::1', '[::1]'].includes(host);

const digest = (key: string) => createHash('sha256').update(key).digest();

/** The access key of a server that other machines reach: 256 random bits, of which only a hash is kept. */
export class AccessKey {
  private readonly hash: Buffer;
  /** The key itself, when it was made just now: to be printed once. */
  readonly fresh: string | undefined;

  /** Reads the hash from a file, or makes a key and keeps its hash there. Remove the file to have another made. */
  constructor(file: string) {
    if (existsSync(file)) {
      this.hash = Buffer.from(storedSchema.parse(JSON.parse(readFileSync(file, 'utf8'))).sha256, 'hex');
      return;
    }
    this.fresh = randomBytes(32).toString('base64url');
    this.hash = digest(this.fresh);
    mkdirSync(dirname(file), { recursive: true });
    writeFileSync(file, `${JSON.stringify({ sha256: this.hash.toString('hex') })}\n`, { mode: 0o600 });
  }

  /** Compares in a time that says nothing of how much was right. */
  fits(key: string): boolean {
    return timingSafeEqual(digest(key), this.hash);
  }
}
