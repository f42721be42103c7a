import { useCallback, useEffect, useRef, useState } from 'react';

/** A key that is held longer returns what it showed when it is let go; one that is tapped leaves it until it is tapped again. */
const tapMilliseconds = 260;

/** Something that is shown while a key is held, or from one tap to the next. */
export function useHeld<T extends { readonly id: string }>(): {
  readonly held: T | undefined;
  press(next: T): void;
  leave(): void;
} {
  const [held, setHeld] = useState<T>();
  const pressed = useRef<{ readonly id: string; readonly since: number; readonly returns: boolean }>(undefined);
  const press = useCallback((next: T) => {
    // A key that stays down repeats itself.
    if (pressed.current?.id === next.id) return;
    setHeld((before) => {
      pressed.current = { id: next.id, since: performance.now(), returns: before?.id === next.id };
      return next;
    });
  }, []);
  const leave = useCallback(() => {
    pressed.current = undefined;
    setHeld(undefined);
  }, []);
  useEffect(() => {
    const release = (event: KeyboardEvent) => {
      if (!pressed.current || ['Shift', 'Alt', 'Control', 'Meta'].includes(event.key)) return;
      const { since, returns } = pressed.current;
      pressed.current = undefined;
      if (returns || performance.now() - since > tapMilliseconds) setHeld(undefined);
    };
    const escape = (event: KeyboardEvent) => event.key === 'Escape' && leave();
    window.addEventListener('keyup', release);
    window.addEventListener('keydown', escape);
    window.addEventListener('blur', leave);
    return () => {
      window.removeEventListener('keyup', release);
      window.removeEventListener('keydown', escape);
      window.removeEventListener('blur', leave);
    };
  }, [leave]);
  return { held, press, leave };
}
