import { Button, Input, Modal, type InputRef } from 'antd';
import { useId, useMemo, useRef, useState, type KeyboardEvent, type ReactNode } from 'react';

/** One of many things to choose from. */
export interface Choice {
  readonly key: string;
  readonly group: string;
  readonly label: string;
  readonly note?: string;
  /** Further words that it is found by. */
  readonly words?: string;
  readonly picture?: ReactNode;
}

export interface PickerAction {
  readonly label: string;
  /** Enter, or Shift+Enter. */
  readonly keys: 'Enter' | 'Shift+Enter';
  /** Whether it can be done with what is chosen. */
  readonly fits: (keys: readonly string[]) => boolean;
  readonly run: (keys: readonly string[]) => void;
}

interface Props {
  open: boolean;
  title: string;
  choices: readonly Choice[];
  actions: readonly PickerAction[];
  /** Only one can be chosen. */
  one?: boolean;
  onClose: () => void;
}

const plain = (s: string) => s.toLowerCase().replace(/[_.\s-]+/g, ' ');

/** Choices whose words hold every word that was typed, in any order. */
export function found(choices: readonly Choice[], typed: string): Choice[] {
  const words = plain(typed).split(' ').filter(Boolean);
  return choices.filter((c) => {
    const text = plain(`${c.label} ${c.note ?? ''} ${c.group} ${c.words ?? ''}`);
    return words.every((w) => text.includes(w));
  });
}

/**
 * Choosing among many: a field to search, pictures where there are some, groups, the arrow keys, several at once by the space bar or a click
 * with Ctrl, Enter.
 */
export function Picker({ open, title, choices, actions, one = false, onClose }: Props) {
  return (
    <Modal open={open} title={title} footer={null} width={560} onCancel={onClose} destroyOnHidden>
      <Inside choices={choices} actions={actions} one={one} onClose={onClose} />
    </Modal>
  );
}

function Inside({ choices, actions, one, onClose }: Pick<Props, 'choices' | 'actions' | 'one' | 'onClose'>) {
  const [typed, setTyped] = useState('');
  const [active, setActive] = useState(0);
  const [marked, setMarked] = useState<readonly string[]>([]);
  const id = useId();
  const list = useRef<HTMLDivElement>(null);
  const field = useRef<InputRef>(null);
  const shown = useMemo(() => found(choices, typed), [choices, typed]);
  const at = Math.min(active, shown.length - 1);
  // Where nothing has a picture, words get its room.
  const pictured = choices.some((c) => c.picture);
  const chosen = marked.length ? marked : shown[at] ? [shown[at].key] : [];
  const mark = (key: string) => !one && setMarked((m) => (m.includes(key) ? m.filter((k) => k !== key) : [...m, key]));
  const move = (to: number) => {
    const next = Math.max(0, Math.min(shown.length - 1, to));
    setActive(next);
    list.current?.querySelector(`[data-at="${next}"]`)?.scrollIntoView({ block: 'nearest' });
  };
  const act = (action: PickerAction | undefined) => {
    if (!action?.fits(chosen)) return;
    onClose();
    action.run(chosen);
  };
  const onKeyDown = (e: KeyboardEvent) => {
    const inField = e.target instanceof HTMLInputElement;
    if (e.key === 'ArrowDown' || e.key === 'ArrowUp') {
      e.preventDefault();
      if (inField) list.current?.focus();
      move(at + (e.key === 'ArrowDown' ? (inField && !marked.length && at === 0 ? 0 : 1) : -1));
    } else if (e.key === 'Enter') {
      e.preventDefault();
      act(actions.find((a) => a.keys === (e.shiftKey ? 'Shift+Enter' : 'Enter')));
    } else if (e.key === ' ' && !inField && shown[at]) {
      e.preventDefault();
      mark(shown[at].key);
    } else if (!inField && e.key.length === 1 && !e.ctrlKey && !e.metaKey) field.current?.focus();
  };
  return (
    <div className="picker" onKeyDown={onKeyDown}>
      <Input
        ref={field}
        autoFocus
        allowClear
        placeholder="Search by any word"
        aria-label="Search"
        aria-controls={`${id}-list`}
        value={typed}
        onChange={(e) => {
          setTyped(e.target.value);
          setActive(0);
        }}
      />
      <div
        ref={list}
        id={`${id}-list`}
        className="choices"
        role="listbox"
        aria-multiselectable
        aria-label="Choices"
        tabIndex={0}
        aria-activedescendant={shown[at] && `${id}-${at}`}
      >
        {shown.map((c, i) => (
          <div key={c.key}>
            {c.group !== shown[i - 1]?.group && (
              <div className="quiet small group" role="presentation">
                {c.group}
              </div>
            )}
            <div
              id={`${id}-${i}`}
              data-at={i}
              role="option"
              aria-selected={marked.includes(c.key)}
              className={`choice${pictured ? '' : ' worded'}${i === at ? ' active' : ''}`}
              onClick={(e) => {
                setActive(i);
                if (e.ctrlKey || e.metaKey || e.shiftKey || marked.length) mark(c.key);
                list.current?.focus();
              }}
              onDoubleClick={() => act(actions[0])}
            >
              <span className="tick" aria-hidden>
                {marked.includes(c.key) ? '✓' : ''}
              </span>
              {pictured && (c.picture ?? <span className="no-picture" />)}
              <span className="clip">{c.label}</span>
              <span className="quiet small clip" title={c.note}>
                {c.note}
              </span>
            </div>
          </div>
        ))}
        {shown.length === 0 && <div className="quiet empty-choices">Nothing has these words in it.</div>}
      </div>
      <div className="picker-foot">
        <span className="quiet small">
          {marked.length ? (
            <>
              <span className="number">{marked.length}</span> chosen
            </>
          ) : (
            !one && 'Space or Ctrl and a click choose several'
          )}
        </span>
        <span className="grow" />
        {[...actions].reverse().map((a) => (
          <Button
            key={a.label}
            size="small"
            type={a.keys === 'Enter' ? 'primary' : 'default'}
            disabled={!a.fits(chosen)}
            title={a.keys}
            onClick={() => act(a)}
          >
            {a.label}
          </Button>
        ))}
      </div>
    </div>
  );
}
