/** @jest-environment jsdom */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render as renderBare, screen, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import { CommandList } from '../src/commands/CommandList.tsx';
import { holdsMemory } from '../src/viewer/engine/pageMemory.ts';
import { standInBrowser, standInServer } from './standInBrowser.ts';
import { readableKeys, useCommand, type Command } from '../src/commands/registry.ts';

const megabyte = 2 ** 20;
beforeEach(() => {
  standInBrowser();
  standInServer({
    '/machine': { frames: 90 * megabyte, framesMost: 768 * megabyte, process: 300 * megabyte, threads: 2 },
  });
});
const render = (children: ReactNode) =>
  renderBare(<QueryClientProvider client={new QueryClient()}>{children}</QueryClientProvider>);
afterEach(cleanup);

function Offered({ command }: { command: Command }) {
  useCommand(command);
  return null;
}
const open = async () => {
  fireEvent.keyDown(document.body, { key: 'k', code: 'KeyK', ctrlKey: true });
  return screen.findByLabelText('Find a command');
};

describe('the command list', () => {
  test('finds a command by words in any order and runs it with Enter', async () => {
    const run = jest.fn();
    render(
      <>
        <CommandList />
        <Offered command={{ name: 'Frame after', keys: 'period', run }} />
        <Offered command={{ name: 'Frame before', keys: 'comma', run: () => undefined }} />
      </>,
    );
    const field = await open();
    fireEvent.change(field, { target: { value: 'aft frame' } });
    expect(screen.getAllByRole('option')).toHaveLength(1);
    fireEvent.keyDown(field, { key: 'Enter' });
    expect(run).toHaveBeenCalledTimes(1);
    await waitFor(() => expect(screen.queryByRole('option')).toBeNull());
  });

  test('arrows choose; what cannot be done now is shown and does nothing', async () => {
    const run = jest.fn();
    render(
      <>
        <CommandList />
        <Offered command={{ name: 'Aa', run: () => undefined }} />
        <Offered command={{ name: 'Ab', run, enabled: false }} />
      </>,
    );
    const field = await open();
    fireEvent.keyDown(field, { key: 'ArrowDown' });
    const chosen = screen.getAllByRole('option').find((o) => o.getAttribute('aria-selected') === 'true')!;
    expect(chosen.textContent).toBe('Ab');
    expect(chosen.getAttribute('aria-disabled')).toBe('true');
    fireEvent.keyDown(field, { key: 'Enter' });
    expect(run).not.toHaveBeenCalled();
  });

  test('it says what the page and the server hold, and may', async () => {
    const most = { planesMost: 768 * megabyte, drawnMost: 512 * megabyte, workersMost: 384 * megabyte };
    const forget = holdsMemory({
      memory: { planes: 70 * megabyte, drawn: 20 * megabyte, workers: 5 * megabyte, ...most },
    });
    render(<CommandList />);
    await open();
    const line = await screen.findByLabelText('About this machine');
    await waitFor(() => expect(line.textContent).toContain('server: frames 90 of 768 MB, process 300 MB, 2 threads'));
    expect(line.textContent).toContain('page: passes 70 of 768 MB, pictures 20 of 512 MB, kept by workers 5 of 384 MB');
    forget();
  });

  test('words that no command has are said to be so', async () => {
    render(<CommandList />);
    fireEvent.change(await open(), { target: { value: 'kettle' } });
    expect(screen.getByText('No command has these words in its name.')).toBeTruthy();
  });
});

describe('a command', () => {
  test('runs by its keys, with what it was offered last, and goes with its component', () => {
    const [first, second] = [jest.fn(), jest.fn()];
    const { rerender, unmount } = render(<Offered command={{ name: 'Undo', keys: 'mod+z', run: first }} />);
    rerender(<Offered command={{ name: 'Undo', keys: 'mod+z', run: second }} />);
    const press = () => fireEvent.keyDown(document.body, { key: 'z', code: 'KeyZ', ctrlKey: true });
    press();
    expect([first.mock.calls.length, second.mock.calls.length]).toEqual([0, 1]);
    unmount();
    press();
    expect(second).toHaveBeenCalledTimes(1);
  });

  test('that is not enabled does not hear its keys', () => {
    const run = jest.fn();
    render(<Offered command={{ name: 'Redo', keys: 'mod+shift+z', run, enabled: false }} />);
    fireEvent.keyDown(document.body, { key: 'Z', code: 'KeyZ', ctrlKey: true, shiftKey: true });
    expect(run).not.toHaveBeenCalled();
  });

  test.each([
    ['mod+shift+z', 'Ctrl+Shift+Z'],
    ['comma', ','],
    ['alt+3', 'Alt+3'],
    ['shift+slash', '?'],
    ['space', 'Space'],
  ])('%s reads %s', (keys, words) => {
    expect(readableKeys(keys)).toBe(words);
  });
});
