import { App } from 'antd';
import { useCallback } from 'react';

/** Copies a text, and says that it did or why it could not: over plain HTTP from another machine browsers offer no clipboard. */
export function useCopy(): (text: string, done: string) => void {
  const { message } = App.useApp();
  return useCallback(
    (text, done) => {
      const refused = () =>
        void message.error('The browser does not let this page copy; it must come from this machine or over HTTPS.');
      const { clipboard } = navigator as { clipboard?: Clipboard };
      if (!clipboard) return refused();
      clipboard.writeText(text).then(() => void message.success(done, 1.5), refused);
    },
    [message],
  );
}
