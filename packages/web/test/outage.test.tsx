/** @jest-environment jsdom */
import { afterEach, expect, jest, test } from '@jest/globals';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, renderHook } from '@testing-library/react';
import type { ReactNode } from 'react';
import { outageKey, useReturn } from '../src/api/outage.ts';
import { takeEvent } from '../src/api/ServerEvents.tsx';

afterEach(cleanup);

test('what failed is asked for again when the database or the server is there again, once each time', async () => {
  const queries = new QueryClient();
  const returned = jest.fn();
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={queries}>{children}</QueryClientProvider>
  );
  const { rerender } = renderHook(() => useReturn(returned), { wrapper });
  // What is told reaches the page with the next turn.
  const told = (change: () => void) =>
    act(async () => {
      change();
      await new Promise((done) => setTimeout(done, 5));
    });
  const database = (there: boolean) => told(() => takeEvent(queries, { kind: 'database', there }));
  rerender();
  await database(false);
  expect(returned).not.toHaveBeenCalled();
  await database(true);
  expect(returned).toHaveBeenCalledTimes(1);
  rerender();
  await database(true);
  expect(returned).toHaveBeenCalledTimes(1);
  // From one kind of outage to the other nothing has returned yet.
  await told(() => void queries.setQueryData(outageKey, 'server'));
  await database(false);
  expect(returned).toHaveBeenCalledTimes(1);
  await database(true);
  expect(returned).toHaveBeenCalledTimes(2);
});
