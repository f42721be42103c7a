import { Checkbox, Form, Input, InputNumber, Modal, Radio, Segmented, Select } from 'antd';
import { colourSpaces, displayCodes } from '@june-haze/core';
import {
  codesToChoose,
  holdsDeepSamples,
  holdsPictures,
  outputSettingsSchema,
  usualLog,
  type OutputSettings,
  type Shot,
} from '@june-haze/contract';
import { isLog } from '../../colour/isLog.ts';
import { SizeFields } from './SizeFields.tsx';
import { lookOf } from '../../colour/lookOf.ts';

interface Props {
  title: string;
  open: boolean;
  settings: OutputSettings;
  shot: Shot;
  onClose: () => void;
  onSave: (settings: OutputSettings) => void;
}

const packings: { value: OutputSettings['compression']; label: string }[] = [
  { value: 'zip', label: 'ZIP, 16 lines' },
  { value: 'zips', label: 'ZIPS, 1 line' },
  { value: 'piz', label: 'PIZ: small for grain' },
  { value: 'rle', label: 'RLE' },
  { value: 'none', label: 'none' },
  { value: 'pxr24', label: 'PXR24: floats to 24 bits' },
  { value: 'b44', label: 'B44: lossy, fast' },
  { value: 'b44a', label: 'B44A: lossy, flat parts small' },
  { value: 'dwaa', label: 'DWAA: lossy, small' },
  { value: 'dwab', label: 'DWAB: lossy, small, 256 lines' },
];

/** What can be written, for whom, and what suits it to begin with. */
const kinds: {
  value: OutputSettings['kind'];
  label: string;
  forWhom: string;
  start?: Partial<OutputSettings>;
}[] = [
  {
    value: 'exr',
    label: 'EXR, linear',
    forWhom: 'for the next compositor; in a log space, back to where it came from',
  },
  { value: 'aces', label: 'ACES container', forWhom: 'for the colourist' },
  { value: 'dpx', label: 'DPX, log', forWhom: 'for who works in 10 bits and a camera’s curve' },
  { value: 'png', label: 'PNG, as seen', forWhom: 'for the web and for notes', start: { bits: 8, codes: null } },
  { value: 'jpeg', label: 'JPEG, as seen', forWhom: 'for mail and telephones', start: { quality: 95, codes: null } },
  { value: 'tiff', label: 'TIFF, as seen', forWhom: 'for print and the archive', start: { bits: 16, codes: null } },
  {
    value: 'movie',
    label: 'Movie, as seen',
    forWhom: 'for review, the web, editing',
    start: { quality: 70, codes: 'bt1886' },
  },
];

const codecs: { value: OutputSettings['codec']; label: string }[] = [
  { value: 'h264', label: 'H.264: review' },
  { value: 'vp9', label: 'VP9: the web' },
  { value: 'prores', label: 'ProRes: editing' },
];

/** Log spaces that files can be in, those that sources came in first. */
function logSpaces(shot: Shot) {
  const came = new Set(shot.sources.flatMap((s) => (isLog(s.declaredSpace) ? [s.declaredSpace!] : [])));
  const others = colourSpaces.filter((s) => s.family === 'log' && !came.has(s.name));
  return [
    ...[...came].map((value) => ({ value, label: `${value}, as its source came` })),
    ...others.map(({ name }) => ({ value: name, label: name })),
  ];
}

/** The working space, and the log spaces: files can go back in those. */
const spacesOf = (shot: Shot, kind: OutputSettings['kind']) => [
  ...(kind === 'dpx' ? [] : [{ value: null, label: `${shot.workingSpace}, the working space` }]),
  ...logSpaces(shot),
];

/** The codes of the viewing's display, and those of others that show the same light. */
const codesOf = ({ viewing }: Shot) => [
  { value: null, label: `as ${viewing.display} has them` },
  ...codesToChoose.map((value) => ({ value, label: `${displayCodes[value].name}: the same light in its codes` })),
];

/** The settings of one output, checked by the same schema as on the server. */
export function OutputForm({ title, open, settings, shot, onClose, onSave }: Props) {
  const [form] = Form.useForm<OutputSettings>();
  const kind = Form.useWatch('kind', form) ?? settings.kind;
  const codec = Form.useWatch('codec', form) ?? settings.codec;
  const submit = async () => {
    const values = outputSettingsSchema.safeParse({ ...settings, ...(await form.validateFields()) });
    if (values.success) return onSave(values.data);
    form.setFields(values.error.issues.map((i) => ({ name: i.path[0] as keyof OutputSettings, errors: [i.message] })));
  };
  return (
    <Modal
      title={title}
      open={open}
      onCancel={onClose}
      onOk={() => void submit()}
      okText="Keep"
      width={580}
      destroyOnHidden
    >
      <Form
        form={form}
        className="output-form"
        layout="horizontal"
        labelCol={{ span: 7 }}
        initialValues={settings}
        size="small"
      >
        <Form.Item name="name" label="Name">
          <Input autoFocus />
        </Form.Item>
        <Form.Item name="kind" label="Files">
          <Radio.Group
            className="kinds"
            onChange={(e) => {
              const chosen = e.target.value as OutputSettings['kind'];
              form.setFieldsValue(kinds.find((k) => k.value === chosen)?.start ?? {});
              if (chosen === 'dpx' && !isLog(form.getFieldValue('space') as string | null))
                form.setFieldValue(
                  'space',
                  shot.sources.find((x) => isLog(x.declaredSpace))?.declaredSpace ?? usualLog,
                );
            }}
          >
            {kinds.map(({ value, label, forWhom }) => (
              <Radio key={value} value={value}>
                <span>{label}</span> <span className="quiet">{forWhom}</span>
              </Radio>
            ))}
          </Radio.Group>
        </Form.Item>
        {(kind === 'exr' || kind === 'dpx') && (
          <Form.Item label="Space" name="space">
            <Select options={spacesOf(shot, kind)} />
          </Form.Item>
        )}
        {kind === 'exr' && (
          <>
            <Form.Item name="sampleType" label="Samples">
              <Segmented
                options={[
                  { value: 'half', label: 'half' },
                  { value: 'float', label: 'float' },
                ]}
              />
            </Form.Item>
            <Form.Item name="compression" label="Packing">
              <Select options={packings} />
            </Form.Item>
          </>
        )}
        {kind === 'aces' && <Form.Item label="Space">ACES2065-1, half, not packed (SMPTE ST 2065-4)</Form.Item>}
        {holdsPictures({ kind }) && (
          <>
            <Form.Item label="View">
              {shot.viewing.display} · {shot.viewing.view}, baked in
            </Form.Item>
            <Form.Item name="codes" label="Codes">
              <Select options={codesOf(shot)} />
            </Form.Item>
            {kind === 'movie' && (
              <Form.Item name="codec" label="Packing">
                <Segmented options={codecs} />
              </Form.Item>
            )}
            {(kind === 'jpeg' || (kind === 'movie' && codec !== 'prores')) && (
              <Form.Item name="quality" label="Quality" extra="1 to 100, the best">
                <InputNumber min={1} max={100} precision={0} />
              </Form.Item>
            )}
            {holdsDeepSamples(kind) && (
              <Form.Item name="bits" label="Samples">
                <Segmented
                  options={[
                    { value: 8, label: '8 bits' },
                    { value: 16, label: '16 bits' },
                  ]}
                />
              </Form.Item>
            )}
            <Form.Item name="bakeLook" label="Look" valuePropName="checked">
              <Checkbox>bake the viewing’s look in too ({lookOf(shot.viewing)})</Checkbox>
            </Form.Item>
          </>
        )}
        <SizeFields shot={shot} />
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
      </Form>
    </Modal>
  );
}
