import { Checkbox, Form, Input, InputNumber, Modal, Radio, Segmented, Select } from 'antd';
import { holdsDeepSamples, outputSettingsSchema, type OutputSettings, type Shot } from '@june-haze/contract';
import { isLog } from '../../colour/isLog.ts';
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

/** What can be written, and for whom. */
const kinds: { value: OutputSettings['kind']; label: string; forWhom: string }[] = [
  {
    value: 'exr',
    label: 'EXR, linear',
    forWhom: 'for the next compositor; in a log space, back to where it came from',
  },
  { value: 'aces', label: 'ACES container', forWhom: 'for the colourist' },
  { value: 'png', label: 'PNG, as seen', forWhom: 'for the web and for notes' },
  { value: 'jpeg', label: 'JPEG, as seen', forWhom: 'for mail and telephones' },
  { value: 'tiff', label: 'TIFF, as seen', forWhom: 'for print and the archive' },
];

/** The working space, and the log spaces that sources came in: files can go back in those. */
function spacesBack(shot: Shot) {
  const log = shot.sources.flatMap((s) => (isLog(s.declaredSpace) ? [s.declaredSpace!] : []));
  return [
    { value: null, label: `${shot.workingSpace}, the working space` },
    ...[...new Set(log)].map((value) => ({ value, label: `${value}, as its source came` })),
  ];
}

/** The settings of one output, checked by the same schema as on the server. */
export function OutputForm({ title, open, settings, shot, onClose, onSave }: Props) {
  const [form] = Form.useForm<OutputSettings>();
  const kind = Form.useWatch('kind', form) ?? settings.kind;
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
      <Form form={form} layout="horizontal" labelCol={{ span: 7 }} initialValues={settings} size="small">
        <Form.Item name="name" label="Name">
          <Input autoFocus />
        </Form.Item>
        <Form.Item name="kind" label="Files">
          <Radio.Group
            className="kinds"
            // A start for whom it is for: each with what suits it.
            onChange={(e) => form.setFieldValue('bits', e.target.value === 'tiff' ? 16 : 8)}
          >
            {kinds.map(({ value, label, forWhom }) => (
              <Radio key={value} value={value}>
                <span>{label}</span> <span className="quiet">{forWhom}</span>
              </Radio>
            ))}
          </Radio.Group>
        </Form.Item>
        {kind === 'exr' ? (
          <>
            <Form.Item label="Space" name="space">
              <Select options={spacesBack(shot)} />
            </Form.Item>
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
        ) : kind === 'aces' ? (
          <Form.Item label="Space">ACES2065-1, half, not packed (SMPTE ST 2065-4)</Form.Item>
        ) : (
          <>
            <Form.Item label="View">
              {shot.viewing.display} · {shot.viewing.view}, baked in
            </Form.Item>
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
        <Form.Item name="firstFrame" label="First frame">
          <InputNumber precision={0} />
        </Form.Item>
        <Form.Item name="lastFrame" label="Last frame">
          <InputNumber precision={0} />
        </Form.Item>
      </Form>
    </Modal>
  );
}
