import { planeKind } from '../stepKind.ts';

interface PqStep {
  readonly kind: 'encodePq' | 'decodePq';
}

/** The perceptual quantiser of SMPTE ST 2084 (BT.2100-2, table 4): 1 is 100 cd/m². */
export const encodePq = planeKind<PqStep>({
  kind: 'encodePq',
  preparePlane: (_, heap) => (p, n) => heap.kernels.encodePq(p, n),
  invert: () => [{ kind: 'decodePq' }],
});
export const decodePq = planeKind<PqStep>({
  kind: 'decodePq',
  preparePlane: (_, heap) => (p, n) => heap.kernels.decodePq(p, n),
  invert: () => [{ kind: 'encodePq' }],
});
