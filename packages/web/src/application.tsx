import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/atkinson-hyperlegible-mono';
import './styles/tokens.css';
import './styles/frame.css';
import './styles/viewer.css';
import './styles/probe.css';
import './styles/scopes.css';
import './styles/strip.css';
import './styles/shelf.css';
import './styles/intake.css';
import './styles/build.css';
import './styles/output.css';
import './styles/library.css';
import './styles/match.css';
import './styles/picker.css';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { App as AntApp, ConfigProvider } from 'antd';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, Navigate } from 'react-router';
import { RouterProvider } from 'react-router/dom';
import { ServerEvents } from './api/ServerEvents.tsx';
import { Broken, Unknown } from './frame/Broken.tsx';
import { Outage } from './frame/Outage.tsx';
import { ShotFrame } from './frame/ShotFrame.tsx';
import { CommandList } from './commands/CommandList.tsx';
import { useRoom } from './room/room.ts';
import { loadOtherScreens, screens } from './start/screens.ts';
import { themeOf } from './theme.ts';
import { listenForInput } from './viewer/engine/lastInput.ts';

const queries = new QueryClient({ defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false } } });
const errorElement = <Broken />;
const router = createBrowserRouter([
  { path: '/', lazy: screens.shelf, errorElement },
  { path: '/library', lazy: screens.library, errorElement },
  { path: '/library/recipes/:recipeId', lazy: screens.library, errorElement },
  { path: '/library/:itemId', lazy: screens.library, errorElement },
  { path: '*', element: <Unknown /> },
  {
    path: '/shots/:shotId',
    element: <ShotFrame />,
    errorElement,
    children: [
      { index: true, element: <Navigate to="intake" replace /> },
      { path: 'intake', lazy: screens.intake },
      { path: 'match', lazy: screens.match },
      { path: 'build', lazy: screens.build },
      { path: 'output', lazy: screens.output },
    ],
  },
]);

const still = matchMedia('(prefers-reduced-motion: reduce)').matches;

function Application() {
  const { theme } = useRoom();
  return (
    <ConfigProvider theme={themeOf(theme, still)}>
      <AntApp className="app">
        <ServerEvents />
        <Outage />
        <CommandList />
        <RouterProvider router={router} />
      </AntApp>
    </ConfigProvider>
  );
}

listenForInput();
createRoot(document.getElementById('root')!).render(
  <QueryClientProvider client={queries}>
    <Application />
  </QueryClientProvider>,
);
loadOtherScreens();
