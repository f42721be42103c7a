import { Button, Popover, Segmented, Tooltip } from 'antd';
import { Lamp } from 'lucide-react';
import { useCallback } from 'react';
import { useCommand } from '../commands/registry.ts';
import { changeRoom, surrounds, useRoom, type Room } from './room.ts';

/** Light or dim interface, and what surrounds pictures. */
export function RoomSettings() {
  const { theme, surround, heldMegabytes } = useRoom();
  const other = theme === 'light' ? 'dim' : 'light';
  const swap = useCallback(() => changeRoom({ theme: other }), [other]);
  useCommand({ name: 'Switch between light and dim', keys: 'shift+d', run: swap });
  const content = (
    <div style={{ display: 'grid', gridTemplateColumns: 'auto auto', gap: 8, alignItems: 'center' }}>
      <span>Interface</span>
      <Segmented<Room['theme']>
        size="small"
        aria-label="Interface"
        value={theme}
        options={[
          { value: 'light', label: 'Light' },
          { value: 'dim', label: 'Dim' },
        ]}
        onChange={(value) => changeRoom({ theme: value })}
      />
      <span>Around pictures</span>
      <Segmented<Room['surround']>
        size="small"
        aria-label="Around pictures"
        value={surround}
        options={Object.entries(surrounds).map(([value, { label }]) => ({ value: value as Room['surround'], label }))}
        onChange={(value) => changeRoom({ surround: value })}
      />
      <span>Held for playing</span>
      <Segmented<number>
        size="small"
        aria-label="Held for playing"
        value={heldMegabytes}
        options={[256, 512, 1024, 2048, 4096].map((value) => ({
          value,
          label: value < 1024 ? `${value} MB` : `${value / 1024} GB`,
        }))}
        onChange={(value) => changeRoom({ heldMegabytes: value })}
      />
    </div>
  );
  return (
    <Popover content={content} trigger="click" placement="bottomRight" title="Room">
      <Tooltip title="Room: light or dim (Shift+D)" placement="left">
        <Button size="small" type="text" aria-label="Room" icon={<Lamp size={14} />} />
      </Tooltip>
    </Popover>
  );
}
