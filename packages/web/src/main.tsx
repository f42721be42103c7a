import { begin } from './start/begin.ts';
import { screenAt } from './start/screens.ts';

// The application is a large file: what it will need is begun while it comes.
begin(location.pathname);
// Whoever asks for the screen hears of a failure.
screenAt(location.pathname)?.().catch(() => undefined);
void import('./application.tsx');
