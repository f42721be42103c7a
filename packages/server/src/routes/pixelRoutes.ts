import { createHash } from 'node:crypto';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { Router } from 'express';
import { LRUCache } from 'lru-cache';
import { builtinColour, dataRoles, plainLevels, windowAtLevel, type ColourKey, type Window } from '@june-haze/core';
import {
  headerBytes,
  planesQuerySchema,
  runOfSource,
  thumbnailQuerySchema,
  viewingSchema,
  type planesWantSchema,
  type PlanesHeader,
} from '@june-haze/contract';
import type { z } from 'zod';
import type { DecodedPart, SharedPlane } from '../compute/decodedPart.ts';
import { GivenUp, InOrder } from '../compute/inOrder.ts';
import type { Context } from '../context.ts';
import { describeError, RequestError } from '../errors.ts';
import { identityOf } from '../intake/bringIn.ts';
import { frameFile, type FrameFile } from '../intake/frameFiles.ts';
import { writtenFrame } from '../runs/writtenFrame.ts';
import { typeOf } from '../compute/partCache.ts';
import { alphaOf } from '../intake/sourceState.ts';
import { colourKey, requireItem } from '../library/items.ts';
import { requireShot, requireSource } from '../shots/shotRows.ts';

/** A config alone, as it comes; the built-in one for no id. */
const keyOf = (config: string): ColourKey => ({ ...builtinColour, config: config || null });

/** What a viewing does to brightness: nothing. */
const untrimmed = { exposure: 0, ...plainLevels, gamma: 1 };

/** What small pictures that were made may take of the server's memory. */
const smallPictureBytes = 64 << 20;

/** Pixels of sources: planes for the viewer, small pictures for lists. */
export function pixelRoutes(context: Context): Router {
  const { db, pool, media, parts, places } = context;
  const router = Router();
  const small = new InOrder(pool.threads - 1);
  // By all that they are made of, the file's identity first: a page that is opened again waits for none of them.
  const made = new LRUCache<string, Uint8Array>({
    maxSize: smallPictureBytes,
    sizeCalculation: (png) => png.byteLength,
  });

  /** All planes that a picture needs, from as many files as it takes, in one answer. */
  router.get('/planes', async (request, response) => {
    const { want } = planesQuerySchema.parse(request.query);
    const sources = new Map<string, ReturnType<typeof requireSource>>();
    const sourceOf = (id: string) => sources.get(id) ?? sources.set(id, requireSource(db, id)).get(id)!;
    const fileOf = async ({ source, frame, part }: z.output<typeof planesWantSchema>) => {
      const run = runOfSource(source);
      if (run !== undefined) return writtenFrame(db, places.outputFolder, run, frame);
      return frameFile(media, await sourceOf(source), part, frame);
    };
    const read = want.map((w) => readWant(context, fileOf(w), w, () => response.closed));
    // Whoever is asked for them later hears of what failed.
    for (const each of read) each.catch(() => undefined);
    response.setHeader('content-type', 'application/octet-stream');
    response.setHeader('cache-control', 'private, no-store');
    await pipeline(Readable.from(answerBytes(read), { objectMode: false }), response).catch((error: unknown) => {
      // A page that has left does not miss the rest.
      if (!response.closed) throw error;
    });
  });

  router.get('/sources/:id/thumbnail', async (request, response) => {
    const query = thumbnailQuerySchema.parse(request.query);
    const source = await requireSource(db, request.params.id);
    const pass = source.facts.passes.find((p) => p.name === query.pass);
    if (!pass) throw new RequestError(404, `${source.pattern} has no pass "${query.pass}".`);
    const row = await requireShot(db, source.shot_id);
    const key = await colourKey(db, row);
    const own = viewingSchema.parse(row.viewing);
    // A small picture is seen as the shot is, but for its trims, unless they are asked for.
    const viewing = viewingSchema.parse({
      ...own,
      ...(query.exposed ? {} : untrimmed),
      display: query.display ?? own.display,
      view: query.view ?? own.view,
      look: query.look ?? own.look,
    });

    const file = await frameFile(media, source, pass.part, query.frame);
    if (file.black) throw new RequestError(404, `${source.pattern}: this frame is missing and left black.`);
    if (query.config) await requireItem(db, query.config);
    const space = query.space ?? source.declared_space ?? 'Linear Rec.709';
    const seen = JSON.stringify([query, space, alphaOf(source), key, row.working_space, viewing]);
    const etag = `"${await identityOf(file.path)}-${file.movieFrame}${file.range ?? ''}-${createHash('sha256').update(seen).digest('base64url')}"`;
    response.setHeader('etag', etag);
    response.setHeader('cache-control', 'private, no-cache');
    if (request.headers['if-none-match'] === etag) {
      response.status(304).end();
      return;
    }
    const { width } = query;
    const level = dataRoles.has(pass.role) ? 0 : Math.max(0, Math.floor(Math.log2(source.facts.width / width)));
    const make = async () =>
      pool.run('makeThumbnail', {
        decoded: await parts.get(
          file,
          pass.part - file.firstPart,
          level,
          pass.channels.map((c) => c.name),
          () => response.closed,
        ),
        pass,
        space,
        alpha: alphaOf(source),
        viewing,
        workingSpace: row.working_space,
        untouched: query.untouched,
        colour: { key, folder: places.libraryFolder },
        ...(query.config === undefined ? {} : { seenBy: { key: keyOf(query.config), folder: places.libraryFolder } }),
        width,
      });
    const png =
      made.get(`${file.path} ${etag}`) ??
      (await small
        .run(make, () => response.closed)
        .catch((error: unknown) => {
          if (error instanceof GivenUp) return undefined;
          throw error;
        }));
    if (!png) return;
    made.set(`${file.path} ${etag}`, png);
    response.setHeader('content-type', 'image/png');
    response.end(Buffer.from(png));
  });

  return router;
}

/** What was read, in order, as it goes over the line: one that failed says so and leaves the others. */
async function* answerBytes(read: readonly ReturnType<typeof readWant>[]): AsyncGenerator<Uint8Array> {
  for (const each of read) {
    const { header, planes } = await each.catch((error: unknown) => {
      // Nobody reads any further.
      if (error instanceof GivenUp) return { header: { error: error.message, status: 499 }, planes: [] };
      const [status, message] = describeError(error);
      if (status === 500) console.error('GET planes:', error);
      return { header: { error: message, status }, planes: [] };
    });
    yield headerBytes(header);
    for (const p of planes) yield Buffer.from(p.buffer, p.byteOffset, p.byteLength);
  }
}

/** The planes of one want. Where nobody waits any more, nothing further is decoded. */
async function readWant(
  { parts }: Context,
  found: Promise<FrameFile>,
  { part, level, data, channels, window }: z.output<typeof planesWantSchema>,
  left: () => boolean,
): Promise<{ header: PlanesHeader; planes: readonly SharedPlane[] }> {
  const file = await found;
  if (left()) throw new GivenUp();
  // A file's own smaller levels are averages: right for light, never for data.
  const decoded = file.black
    ? blackPart(file, channels)
    : await parts.get(file, part - file.firstPart, data ? 0 : level, channels, left);
  const unknown = channels.find((c) => !Object.hasOwn(decoded.planes, c));
  if (unknown !== undefined) throw new RequestError(404, `${file.name} has no channel "${unknown}".`);
  if (left()) throw new GivenUp();
  const further = level - decoded.level;
  const { width, height, planes } = await parts.planes(decoded, channels, further, data);
  const cut = window && withinPicture(window, width, height);
  const header = {
    width: cut?.width ?? width,
    height: cut?.height ?? height,
    types: planes.map(typeOf),
    missing: decoded.missing.map(([a, b]): [number, number] => [a, b]),
    file: file.name,
    size: decoded.size,
    data: windowAtLevel(decoded.data, further),
  };
  return { header, planes: cut ? planes.map((p) => cutOut(p, width, cut)) : planes };
}

/** A window without what of it lies outside a picture. Throws a RequestError where nothing is left. */
function withinPicture(window: Window, width: number, height: number): Window {
  const [x, y] = [Math.max(0, window.x), Math.max(0, window.y)];
  const right = Math.min(width, window.x + window.width);
  const bottom = Math.min(height, window.y + window.height);
  if (right <= x || bottom <= y) throw new RequestError(400, 'The window lies outside the picture.');
  return { x, y, width: right - x, height: bottom - y };
}

/** A window of a plane. */
function cutOut(plane: SharedPlane, width: number, window: Window): SharedPlane {
  const { x, y, width: across, height } = window;
  const bytes = plane.BYTES_PER_ELEMENT;
  const out = new (plane.constructor as new (memory: SharedArrayBuffer) => SharedPlane)(
    new SharedArrayBuffer(across * height * bytes),
  );
  for (let row = 0; row < height; row++) {
    const from = (y + row) * width + x;
    out.set(plane.subarray(from, from + across), row * across);
  }
  return out;
}

/** A frame that is left black, in the channels asked for. */
function blackPart({ width, height }: { width: number; height: number }, channels: readonly string[]): DecodedPart {
  const black = new Float32Array(new SharedArrayBuffer(width * height * 4));
  return {
    level: 0,
    width,
    height,
    size: { width, height },
    data: { x: 0, y: 0, width, height },
    planes: Object.fromEntries(channels.map((c) => [c, black])),
    missing: [],
  };
}
