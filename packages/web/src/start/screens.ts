/** The screens, each a file of its own: a page loads the one that it shows, and the others when it is at rest. */
export const screens = {
  shelf: async () => ({ Component: (await import('../screens/shelf/Shelf.tsx')).Shelf }),
  library: async () => ({ Component: (await import('../screens/library/Library.tsx')).Library }),
  intake: async () => ({ Component: (await import('../screens/intake/Intake.tsx')).Intake }),
  match: async () => ({ Component: (await import('../screens/match/Match.tsx')).Match }),
  build: async () => ({ Component: (await import('../screens/build/Build.tsx')).Build }),
  output: async () => ({ Component: (await import('../screens/output/OutputScreen.tsx')).OutputScreen }),
};

/** The screen that an address shows; undefined where it leads on, or nowhere. */
export function screenAt(path: string): (() => Promise<unknown>) | undefined {
  if (path === '/') return screens.shelf;
  if (path.startsWith('/library')) return screens.library;
  const [, stage] = /^\/shots\/[^/]+\/(intake|match|build|output)$/.exec(path) ?? [];
  return stage === undefined ? undefined : screens[stage as keyof typeof screens];
}

/** So long after a page began its other screens are loaded. */
const atRest = 5000;

export function loadOtherScreens(): void {
  setTimeout(() => Object.values(screens).forEach((load) => void load().catch(() => undefined)), atRest);
}
