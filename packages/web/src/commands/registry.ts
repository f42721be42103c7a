import { useEffect, useRef, useSyncExternalStore } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';

/** Something a person can do on the screen as it stands, by name or by its keys. */
export interface Command {
  readonly name: string;
  /** As react-hotkeys-hook writes them, `mod` for Ctrl or Cmd; none for actions that have only a name. */
  readonly keys?: string;
  readonly run: () => void;
  readonly enabled?: boolean;
}

/** Whether the space bar and Enter belong to what has the focus. */
const isControl = (target: EventTarget | null): boolean =>
  target instanceof Element &&
  target.closest('button, a, input, select, textarea, summary, [role="listbox"], [role="slider"], [role="switch"]') !==
    null;

/** Whether what has the focus takes letters: a command's key is a letter there. */
function isTyping(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  if (target.isContentEditable || target instanceof HTMLTextAreaElement || target instanceof HTMLSelectElement)
    return true;
  return (
    target instanceof HTMLInputElement && !target.readOnly && !['radio', 'checkbox', 'button'].includes(target.type)
  );
}

const commands = new Map<string, Command>();
const listeners = new Set<() => void>();
let snapshot: readonly Command[] = [];

function publish(): void {
  snapshot = [...commands.values()].sort((a, b) => a.name.localeCompare(b.name));
  for (const listener of listeners) listener();
}

/** Offers a command, with its keys, for as long as the component stands. */
export function useCommand({ name, keys, run, enabled = true }: Command): void {
  const latest = useRef(run);
  useEffect(() => {
    latest.current = run;
  });
  useHotkeys(keys ?? '', () => latest.current(), {
    enabled: enabled && keys !== undefined,
    preventDefault: true,
    enableOnFormTags: true,
    ignoreEventWhen: ({ key, target }) => isTyping(target) || ((key === ' ' || key === 'Enter') && isControl(target)),
  });
  useEffect(() => {
    commands.set(name, { name, run: () => latest.current(), enabled, ...(keys === undefined ? {} : { keys }) });
    publish();
    return () => {
      commands.delete(name);
      publish();
    };
  }, [name, keys, enabled]);
}

/** The commands offered now, by name. */
export function useCommands(): readonly Command[] {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => snapshot,
  );
}

const keyNames: Record<string, string> = {
  mod: 'Ctrl',
  shift: 'Shift',
  alt: 'Alt',
  comma: ',',
  period: '.',
  space: 'Space',
};

/** Keys as a person reads them: `mod+shift+z` is "Ctrl+Shift+Z". */
export function readableKeys(keys: string): string {
  if (keys === 'shift+slash') return '?';
  return keys
    .split('+')
    .map((k) => keyNames[k] ?? k.toUpperCase())
    .join('+');
}
