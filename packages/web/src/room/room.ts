import { useSyncExternalStore } from 'react';
import { z } from 'zod';

/** How the application suits the room it is used in: kept in this browser. */
const roomSchema = z.object({
  theme: z.enum(['light', 'dim']).catch('light'),
  /** What surrounds pictures. */
  surround: z.enum(['black', 'grey', 'mid', 'white']).catch('grey'),
  /** What finished pictures may take of this machine's memory, to be played at once. */
  heldMegabytes: z.number().int().min(64).max(16384).catch(512),
});
export type Room = z.infer<typeof roomSchema>;

/** Code values of the surrounds; "18 % grey" is reflectance 0.18 in sRGB (IEC 61966-2-1). */
export const surrounds: Record<Room['surround'], { label: string; colour: string }> = {
  black: { label: 'Black', colour: '#000000' },
  grey: { label: '18 % grey', colour: '#767676' },
  mid: { label: 'Mid', colour: '#999999' },
  white: { label: 'White', colour: '#ffffff' },
};

const key = 'june-haze-room';
const listeners = new Set<() => void>();
let room = read();
apply();

function read(): Room {
  try {
    return roomSchema.parse(JSON.parse(localStorage.getItem(key) ?? '{}'));
  } catch {
    return roomSchema.parse({});
  }
}

function apply(): void {
  document.documentElement.dataset.theme = room.theme;
  document.documentElement.style.setProperty('--surround', surrounds[room.surround].colour);
}

export function changeRoom(change: Partial<Room>): void {
  room = { ...room, ...change };
  apply();
  localStorage.setItem(key, JSON.stringify(room));
  for (const listener of listeners) listener();
}

export function useRoom(): Room {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => room,
  );
}
