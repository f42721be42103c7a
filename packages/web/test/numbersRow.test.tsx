/** @jest-environment jsdom */
import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import type { Keyed } from '@june-haze/core';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { standInBrowser } from './standInBrowser.ts';

const { NumbersRow } = await import('../src/screens/build/keys/NumbersRow.tsx');
const { FrameContext } = await import('../src/screens/build/keys/frameContext.ts');

beforeEach(standInBrowser);
afterEach(cleanup);

function open(numbers: readonly Keyed[], frame = 1010) {
  const saved = jest.fn<(numbers: readonly Keyed[]) => void>();
  render(
    <FrameContext value={{ frame, first: 1001, last: 1024 }}>
      <NumbersRow
        label="Tint colour"
        names={['Red', 'Green', 'Blue']}
        numbers={numbers}
        range={[0, 1000]}
        step={0.01}
        onDraft={() => undefined}
        onSave={saved}
      />
    </FrameContext>,
  );
  return saved;
}
const type = (channel: string, value: string) => {
  const field = screen.getByLabelText(`Tint colour ${channel}`);
  fireEvent.change(field, { target: { value } });
  fireEvent.blur(field);
};

test('a colour that is not keyed is typed number by number', () => {
  const saved = open([1, 0.5, 0.25]);
  type('green', '0.75');
  expect(saved).toHaveBeenCalledWith([1, 0.75, 0.25]);
  expect(screen.queryByRole('group', { name: /over frames/ })).toBeNull();
});

test('one key keys all of it at the frame that is seen, and takes all of that frame away again', () => {
  const saved = open([1, 0.5, 0.25]);
  fireEvent.click(screen.getByRole('button', { name: 'Key Tint colour' }));
  const keyed = saved.mock.calls[0]![0];
  expect(keyed).toEqual([{ keys: [[1010, 1]] }, { keys: [[1010, 0.5]] }, { keys: [[1010, 0.25]] }]);
  cleanup();
  const again = open(keyed);
  fireEvent.click(screen.getByRole('button', { name: 'Take the key of Tint colour away' }));
  expect(again).toHaveBeenCalledWith([1, 0.5, 0.25]);
});

test('what is keyed shows its value at the frame, is keyed there when it is typed, and has a curve of its own', () => {
  const blue: Keyed = {
    keys: [
      [1001, 0],
      [1021, 1],
    ],
  };
  const saved = open([1, 1, blue], 1011);
  expect((screen.getByLabelText('Tint colour blue') as HTMLInputElement).value).toBe('0.50');
  expect(screen.getAllByRole('group').map((g) => g.getAttribute('aria-label'))).toEqual([
    'Tint colour blue over frames',
  ]);
  type('blue', '0.9');
  expect(saved).toHaveBeenCalledWith([
    1,
    1,
    {
      keys: [
        [1001, 0],
        [1011, 0.9],
        [1021, 1],
      ],
    },
  ]);
});
