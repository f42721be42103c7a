import { Input, Modal, type InputRef } from 'antd';
import { useCallback, useRef, useState } from 'react';
import { MachineLine } from './MachineLine.tsx';
import { readableKeys, useCommand, useCommands, type Command } from './registry.ts';

/** Every action of the screen by name, with its keys: opened by Ctrl+K, or by `?` to learn the keys. */
export function CommandList() {
  const [open, setOpen] = useState(false);
  const [search, setSearch] = useState('');
  const [at, setAt] = useState(0);
  const field = useRef<InputRef>(null);
  const show = useCallback(() => {
    setSearch('');
    setAt(0);
    setOpen(true);
  }, []);
  useCommand({ name: 'Show all commands', keys: 'mod+k', run: show });
  useCommand({ name: 'Show all keys', keys: 'shift+slash', run: show });
  const words = search.toLowerCase().split(/\s+/);
  const found = useCommands().filter((c) => words.every((w) => c.name.toLowerCase().includes(w)));
  const chosen = Math.min(at, found.length - 1);
  const run = (command: Command | undefined) => {
    if (!command || command.enabled === false) return;
    setOpen(false);
    command.run();
  };
  return (
    <Modal
      open={open}
      title="Commands"
      footer={null}
      width={460}
      destroyOnHidden
      onCancel={() => setOpen(false)}
      afterOpenChange={(shown) => shown && field.current?.focus()}
    >
      <Input
        ref={field}
        aria-label="Find a command"
        placeholder="Find a command"
        role="combobox"
        aria-expanded="true"
        aria-controls="command-list"
        aria-activedescendant={found[chosen] ? `command-${chosen}` : undefined}
        value={search}
        onChange={(e) => {
          setSearch(e.target.value);
          setAt(0);
        }}
        onKeyDown={(e) => {
          if (e.key === 'ArrowDown') setAt(Math.min(chosen + 1, found.length - 1));
          else if (e.key === 'ArrowUp') setAt(Math.max(chosen - 1, 0));
          else if (e.key === 'Enter') run(found[chosen]);
          else return;
          e.preventDefault();
        }}
      />
      <div id="command-list" role="listbox" aria-label="Commands" className="commands">
        {found.map((command, i) => (
          <div
            key={command.name}
            id={`command-${i}`}
            role="option"
            aria-selected={i === chosen}
            aria-disabled={command.enabled === false}
            className={`command${i === chosen ? ' chosen' : ''}`}
            onClick={() => run(command)}
          >
            <span className={command.enabled === false ? 'quiet' : ''}>{command.name}</span>
            {command.keys && <kbd className="number quiet">{readableKeys(command.keys)}</kbd>}
          </div>
        ))}
        {found.length === 0 && <div className="quiet">No command has these words in its name.</div>}
      </div>
      <MachineLine />
    </Modal>
  );
}
