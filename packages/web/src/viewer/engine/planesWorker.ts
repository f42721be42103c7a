import { PlanesReader, type PlanesAnswer, type PlanesWant } from '@june-haze/contract';
import { failure } from '../../api/request.ts';
import { allocateShared } from './sharedMemory.ts';

export interface PlanesOrder {
  readonly id: number;
  /** Left out, the request of that id is not waited for any more. */
  readonly wants?: readonly PlanesWant[];
}
export type PlanesDelivery =
  { readonly id: number; readonly answers: readonly PlanesAnswer[] } | { readonly id: number; readonly error: string };

const underWay = new Map<number, AbortController>();

/** Fetches all planes of a picture in one request and puts each into memory of its own: the page and the picture workers go on meanwhile. */
async function fetchPlanes(wants: readonly PlanesWant[], signal: AbortSignal): Promise<readonly PlanesAnswer[]> {
  const query = new URLSearchParams(wants.map((w) => ['want', JSON.stringify(w)]));
  const response = await fetch(`/api/planes?${query.toString()}`, { signal });
  if (!response.ok) throw await failure(response);
  const reader = new PlanesReader(allocateShared);
  const body = response.body!.getReader();
  for (let piece = await body.read(); !piece.done; piece = await body.read()) reader.add(piece.value);
  return reader.end();
}

self.onmessage = ({ data: { id, wants } }: MessageEvent<PlanesOrder>) => {
  if (!wants) return underWay.get(id)?.abort();
  const aborting = new AbortController();
  underWay.set(id, aborting);
  fetchPlanes(wants, aborting.signal)
    .then(
      (answers): PlanesDelivery => ({ id, answers }),
      (error: unknown): PlanesDelivery => ({ id, error: error instanceof Error ? error.message : String(error) }),
    )
    .then((delivery) => {
      underWay.delete(id);
      self.postMessage(delivery);
    })
    .catch(console.error);
};
