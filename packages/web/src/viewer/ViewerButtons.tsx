import { Button, Segmented, Tooltip } from 'antd';
import { memo } from 'react';
import type { ChannelChoice } from './messages.ts';

const channels: { value: ChannelChoice; label: string; title: string }[] = [
  { value: 'colour', label: 'Colour', title: 'All channels' },
  { value: 'red', label: 'R', title: 'Red alone' },
  { value: 'green', label: 'G', title: 'Green alone' },
  { value: 'blue', label: 'B', title: 'Blue alone' },
  { value: 'alpha', label: 'A', title: 'Alpha, as it is' },
  { value: 'luminance', label: 'Y', title: 'Luminance' },
];

interface Props {
  channel: ChannelChoice;
  onChannel: (channel: ChannelChoice) => void;
  fitted: boolean;
  onFit: () => void;
  onWhole: () => void;
}

/** What is seen of the picture: channels, fitted or one to one. */
export const ViewerButtons = memo(function ViewerButtons({ channel, onChannel, fitted, onFit, onWhole }: Props) {
  return (
    <>
      <Segmented
        size="small"
        value={channel}
        onChange={onChannel}
        options={channels.map((c) => ({ value: c.value, label: <Tooltip title={c.title}>{c.label}</Tooltip> }))}
        aria-label="Channels"
      />
      <Tooltip title="Fit (0)">
        <Button size="small" onClick={onFit} aria-pressed={fitted}>
          Fit
        </Button>
      </Tooltip>
      <Tooltip title="One picture pixel on one screen pixel (1)">
        <Button size="small" onClick={onWhole}>
          1:1
        </Button>
      </Tooltip>
    </>
  );
});
