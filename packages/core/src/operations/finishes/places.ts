/** Where places lie among a row's or a column's samples. */
export interface Places {
  readonly first: Int32Array;
  readonly next: Int32Array;
  /** How near to the second, 0 … 1. */
  readonly share: Float64Array;
}

/** Between which of `count` samples so many places lie; `at` gives each in samples, the first one's middle being 0. At the border the last sample is held. */
export function placesOf(many: number, count: number, at: (place: number) => number): Places {
  const places = { first: new Int32Array(many), next: new Int32Array(many), share: new Float64Array(many) };
  for (let i = 0; i < many; i++) {
    const own = Math.min(count - 1, Math.max(0, at(i)));
    const first = Math.floor(own);
    places.first[i] = first;
    places.next[i] = Math.min(count - 1, first + 1);
    places.share[i] = own - first;
  }
  return places;
}
