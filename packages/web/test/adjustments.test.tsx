/** @jest-environment jsdom */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { App } from 'antd';
import { builtinColour, type Adjustment, type Entry, type FillEntry } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { standInBrowser, standInServer } from './standInBrowser.ts';

const { EntryEditor } = await import('../src/screens/build/EntryEditor.tsx');
const { VariableField } = await import('../src/colour/VariableField.tsx');
const { LookField } = await import('../src/colour/LookField.tsx');

const shot = { id: 'shot', workingSpace: 'ACEScg', colour: builtinColour } as unknown as Shot;
const dusk = {
  id: 'd'.repeat(32),
  kind: 'cdl',
  name: 'dusk.cc',
  version: 2,
  createdAt: '',
  facts: { files: ['dusk.cc'], bytes: 9, about: '1 correction', problems: [] },
  use: { as: 'look', space: 'ACEScct' },
  usedBy: [],
};
const technical = {
  ...dusk,
  id: 'e'.repeat(32),
  name: 'camera.cube',
  kind: 'lut',
  use: { as: 'conversion', to: 'ACEScg' },
};
const mist = (adjustments: readonly Adjustment[]): Entry => ({
  id: 'mist',
  kind: 'fill',
  name: 'Mist',
  enabled: true,
  operation: 'over',
  mix: 1,
  colour: [0.2, 0.2, 0.2],
  alpha: 1,
  adjustments,
});
const baked: Adjustment = {
  kind: 'look',
  enabled: true,
  look: null,
  lookFile: { id: dusk.id, name: 'dusk.cc', space: 'ACEScct' },
};

beforeEach(() => {
  standInBrowser();
  standInServer({ '/library': [dusk, technical] });
});
afterEach(cleanup);

function open(entry: Entry, cutOff?: number) {
  const saved = jest.fn<(entry: Entry, words: string) => void>();
  const drafted = jest.fn<(entry: Entry) => void>();
  const removed = jest.fn();
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <App>
        <EntryEditor
          shot={shot}
          document={{ version: 2, entries: [entry] }}
          entry={entry}
          cutOff={cutOff}
          onDraft={drafted}
          onSave={saved}
          onRemove={removed}
        />
      </App>
    </QueryClientProvider>,
  );
  return { saved, drafted, removed };
}
const last = (saved: { mock: { calls: [Entry, string][] } }) => saved.mock.calls.at(-1)!;

describe('adjustments of an entry', () => {
  test.each([
    ['Exposure', { kind: 'exposure', enabled: true }, 'exposure on Mist'],
    ['Gain', { kind: 'gain', enabled: true }, 'gain on Mist'],
    ['Baked look', { kind: 'look', enabled: true }, 'look on Mist'],
  ])('%s is added without effect, after those that are there', async (label, adjustment, words) => {
    const { saved } = open(mist([baked]));
    fireEvent.click(screen.getByText('Add adjustment'));
    fireEvent.click(await screen.findByText(label, { selector: '[role=option] *' }));
    fireEvent.click(screen.getByRole('button', { name: 'Add' }));
    expect(last(saved)).toEqual([mist([baked, adjustment as Adjustment]), words]);
  });

  test('a baked look takes its file from the Library’s looks, with the space that it expects', async () => {
    const { saved } = open(mist([{ ...baked, lookFile: null }]));
    expect(screen.getByText('baked: nothing yet')).toBeTruthy();
    fireEvent.mouseDown(screen.getByLabelText('Baked look file'));
    const options = await screen.findAllByText(/, on /);
    // A technical LUT is no look.
    expect(options.map((o) => o.textContent)).toEqual(['dusk.cc · 2, on ACEScct']);
    fireEvent.click(options[0]!);
    expect(last(saved)).toEqual([mist([baked]), 'baked look file of Mist']);
  });

  test('a CDL takes its numbers from a file: of several corrections the one that is chosen; what is none says so', async () => {
    const { saved } = open(mist([{ kind: 'cdl', enabled: true } as Adjustment]));
    const correction = (id: string, slope: string) =>
      `<ColorCorrection id="${id}"><SOPNode><Slope>${slope}</Slope><Offset>0.01 0 0</Offset><Power>1 1 1.1</Power></SOPNode></ColorCorrection>`;
    const drop = (name: string, text: string) =>
      fireEvent.change(document.querySelector('input[type=file]')!, {
        target: {
          files: [
            Object.assign(new File([text], name), {
              arrayBuffer: () => Promise.resolve(new TextEncoder().encode(text).buffer),
            }),
          ],
        },
      });
    drop(
      'two.ccc',
      `<ColorCorrectionCollection>${correction('dusk', '1 1 1')}${correction('dawn', '1.2 1 0.8')}</ColorCorrectionCollection>`,
    );
    fireEvent.mouseDown(await screen.findByLabelText('Correction of the file'));
    fireEvent.click(await screen.findByText('dawn'));
    const numbers = { slope: [1.2, 1, 0.8], offset: [0.01, 0, 0], power: [1, 1, 1.1], saturation: 1 };
    expect(last(saved)).toEqual([mist([{ kind: 'cdl', enabled: true, ...numbers } as Adjustment]), 'CDL dawn of Mist']);
    drop('no.cc', '<nothing/>');
    expect(await screen.findByText(/no <ColorCorrection> is in it/)).toBeTruthy();
    expect(saved).toHaveBeenCalledTimes(1);
  });

  test('it says what it bakes, is switched off, and is taken off', () => {
    const { saved } = open(mist([baked]));
    expect(screen.getByText('baked: dusk.cc')).toBeTruthy();
    fireEvent.click(screen.getByLabelText('look on'));
    expect((last(saved)[0] as FillEntry).adjustments).toEqual([{ ...baked, enabled: false }]);
    fireEvent.click(screen.getByText('Remove'));
    expect(last(saved)).toEqual([mist([]), 'took an adjustment off Mist']);
  });

  test('a file that is no longer in the Library is still named', async () => {
    open(mist([{ ...baked, lookFile: { id: 'gone', name: 'gone.cube', space: 'ACEScct' } }]));
    expect(await screen.findByText('gone.cube, no longer in the Library')).toBeTruthy();
  });

  test.each([
    [0.034, 'A table cuts off 3.4 % of its pixels'],
    [0.0002, 'A table cuts off < 0.1 % of its pixels'],
  ])('cut-off pixels, a share of %f, are said', (share, words) => {
    open(mist([baked]), share);
    expect(screen.getByRole('status').textContent).toContain(words);
  });

  test('nothing is said where nothing is cut off', () => {
    open(mist([baked]), 0);
    expect(screen.queryByRole('status')).toBeNull();
  });

  test('numbers are typed, by channel, and a name is kept when it is left', () => {
    const gain: Adjustment = { kind: 'gain', enabled: true };
    const { saved } = open(mist([gain]));
    fireEvent.click(screen.getByText('By channel'));
    fireEvent.change(screen.getByLabelText('Gain green, typed'), { target: { value: '0.5' } });
    fireEvent.blur(screen.getByLabelText('Gain green, typed'));
    expect(last(saved)).toEqual([mist([{ ...gain, green: 0.5 }]), 'gain green of Mist']);
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'Haze' } });
    fireEvent.blur(screen.getByLabelText('Name'));
    expect(last(saved)).toEqual([{ ...mist([gain]), name: 'Haze' }, 'renamed Mist']);
  });
});

describe('the field of a config’s variable', () => {
  const show = (onChange: (text: string, refused: () => void) => void, given = 'warm') =>
    render(<VariableField id="v" given={given} value="cold" onChange={onChange} />);
  const field = () => screen.getByRole<HTMLInputElement>('textbox');

  test('keeps what is typed on leaving, and nothing when nothing changed', () => {
    const change = jest.fn();
    show(change);
    fireEvent.blur(field());
    fireEvent.change(field(), { target: { value: 'warm ' } });
    fireEvent.blur(field());
    expect(change).not.toHaveBeenCalled();
    fireEvent.change(field(), { target: { value: ' dusk ' } });
    fireEvent.blur(field());
    expect(change).toHaveBeenCalledWith('dusk', expect.any(Function));
  });

  test('puts the old value back when the new one is refused', () => {
    show((_text, refused) => refused());
    fireEvent.change(field(), { target: { value: 'gone' } });
    fireEvent.blur(field());
    expect(field().value).toBe('warm');
  });

  test('shows the config’s own value where the shot gives none', () => {
    show(() => undefined, '');
    expect([field().value, field().placeholder]).toEqual(['', 'cold']);
  });
});

describe('the field of looks', () => {
  test.each([
    ['the view’s own', null],
    ['none', ''],
    ['dusk', 'dusk'],
    [' +dusk, -clear ', '+dusk, -clear'],
  ])('"%s" typed is kept as %j', async (typed, kept) => {
    const change = jest.fn();
    render(
      <LookField
        label="Look"
        value="copper"
        names={['dusk', 'copper']}
        unset="the view’s own"
        none="none"
        onChange={change}
      />,
    );
    fireEvent.change(screen.getByLabelText('Look'), { target: { value: typed } });
    fireEvent.keyDown(screen.getByLabelText('Look'), { key: 'Enter', keyCode: 13 });
    await waitFor(() => expect(change).toHaveBeenCalledWith(kept));
  });
});
