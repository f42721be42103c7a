import { Form, Input, InputNumber, Segmented } from 'antd';
import { isPictureKind, type OutputSettings, type Shot } from '@june-haze/contract';
import { timecodeOfFrame } from '@june-haze/core';
import { SizeFields } from './SizeFields.tsx';

/** Which frames an output writes, how large, and what time they say. */
export function RangeFields({ shot }: { shot: Shot }) {
  const form = Form.useFormInstance<OutputSettings>();
  const kind = Form.useWatch('kind', form) ?? 'exr';
  const first = Form.useWatch('firstFrame', form) ?? shot.firstFrame;
  const rate = Form.useWatch('rate', form) ?? shot.rate;
  const saysTime = !isPictureKind(kind) || kind === 'movie';
  return (
    <>
      <Form.Item label="Frames">
        <Form.Item name="firstFrame" noStyle>
          <InputNumber precision={0} aria-label="First frame" />
        </Form.Item>
        <span> to </span>
        <Form.Item name="lastFrame" noStyle>
          <InputNumber precision={0} aria-label="Last frame" />
        </Form.Item>
        <span> every </span>
        <Form.Item name="step" noStyle>
          <InputNumber precision={0} min={1} aria-label="Every how many frames" style={{ width: 56 }} />
        </Form.Item>
      </Form.Item>
      <SizeFields shot={shot} />
      <Form.Item name="priority" label="In the queue">
        <Segmented
          options={[
            { value: 'first', label: 'before others' },
            { value: 'usual', label: 'in turn' },
            { value: 'last', label: 'after others' },
          ]}
        />
      </Form.Item>
      <Form.Item label="Rate" hidden={!saysTime}>
        <Form.Item name="rate" noStyle>
          <InputNumber min={0.001} max={1000} aria-label="Frames a second" placeholder={String(shot.rate)} />
        </Form.Item>
        <span className="quiet"> frames a second; empty for the shot’s, and no frame is made or left out for it</span>
      </Form.Item>
      <Form.Item
        label="Time code"
        name="timecode"
        hidden={!saysTime}
        getValueFromEvent={(e: React.ChangeEvent<HTMLInputElement>) => e.target.value || null}
        extra="of the first frame; empty for the frame’s own number"
      >
        <Input className="number" style={{ width: 130 }} placeholder={timecodeOfFrame(Math.max(0, first), rate)} />
      </Form.Item>
    </>
  );
}
