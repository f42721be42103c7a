import { Checkbox, Form, InputNumber } from 'antd';
import { sizeOfOutput, type OutputSettings, type Shot } from '@june-haze/contract';

const sides = [
  ['x', 'from left'],
  ['y', 'from top'],
  ['width', 'wide'],
  ['height', 'high'],
] as const;

/** How large an output's files are, and which part of the shot's picture they show. */
export function SizeFields({ shot }: { shot: Shot }) {
  const form = Form.useFormInstance<OutputSettings>();
  const kind = Form.useWatch('kind', form) ?? 'exr';
  const width = Form.useWatch('width', form) ?? null;
  const crop = Form.useWatch('crop', form) ?? null;
  const size = sizeOfOutput({ kind, width, crop }, shot);
  return (
    <>
      <Form.Item label="Size">
        <Form.Item name="width" noStyle>
          <InputNumber
            precision={0}
            min={1}
            max={65_536}
            aria-label="Width of the files"
            placeholder={`${size.crop.width}`}
          />
        </Form.Item>
        <span className="quiet">
          {' '}
          {size.width}×{size.height}; empty for the shot’s own pixels
        </span>
      </Form.Item>
      <Form.Item label="Part">
        <Checkbox
          checked={crop !== null}
          onChange={(e) =>
            form.setFieldValue('crop', e.target.checked ? { x: 0, y: 0, width: shot.width, height: shot.height } : null)
          }
        >
          a part of the picture
        </Checkbox>
        {/* Kept registered, so that it is sent whether or not it is chosen. */}
        <Form.Item name="crop" noStyle>
          <Crop />
        </Form.Item>
        <Form.Item
          name="keepWindow"
          valuePropName="checked"
          hidden={kind !== 'exr' || !crop}
          style={{ marginBottom: 0 }}
        >
          <Checkbox>as the data window, in the shot’s own display window</Checkbox>
        </Form.Item>
      </Form.Item>
    </>
  );
}

type Part = NonNullable<OutputSettings['crop']>;

/** The four numbers of a part; nothing where all of the picture is taken. */
function Crop({ value, onChange }: { value?: Part | null; onChange?: (part: Part) => void }) {
  if (!value) return null;
  return (
    <div>
      {sides.map(([side, words]) => (
        <InputNumber
          key={side}
          size="small"
          precision={0}
          min={side === 'x' || side === 'y' ? 0 : 1}
          aria-label={`Part, ${words}`}
          title={words}
          style={{ width: 64, marginRight: 4 }}
          value={value[side]}
          onChange={(v) => v !== null && onChange?.({ ...value, [side]: v })}
        />
      ))}
      <span className="quiet">left, top, wide, high</span>
    </div>
  );
}
