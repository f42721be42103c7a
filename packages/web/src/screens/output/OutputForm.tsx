import { Form, Input, Modal, Tabs } from 'antd';
import { outputSettingsSchema, type OutputSettings, type Shot } from '@june-haze/contract';
import { useState } from 'react';
import { KindFields } from './KindFields.tsx';
import { NameFields } from './NameFields.tsx';
import { RangeFields } from './RangeFields.tsx';

interface Props {
  title: string;
  open: boolean;
  settings: OutputSettings;
  shot: Shot;
  onClose: () => void;
  onSave: (settings: OutputSettings) => void;
}

type Tab = 'files' | 'range' | 'names';
const rangeFields = ['firstFrame', 'lastFrame', 'step', 'width', 'crop', 'rate', 'timecode', 'priority'];
const nameFields = ['folder', 'fileName', 'offset', 'owner', 'comments'];
/** Where a setting is changed: what is wrong is shown there. */
const tabOf = (field: string): Tab =>
  rangeFields.includes(field) ? 'range' : nameFields.includes(field) ? 'names' : 'files';

/** The settings of one output, checked by the same schema as on the server. */
export function OutputForm({ title, open, settings, shot, onClose, onSave }: Props) {
  const [form] = Form.useForm<OutputSettings>();
  const [tab, setTab] = useState<Tab>('files');
  const submit = async () => {
    const values = outputSettingsSchema.safeParse({ ...settings, ...(await form.validateFields()) });
    if (values.success) return onSave(values.data);
    setTab(tabOf(String(values.error.issues[0]?.path[0])));
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
      afterClose={() => setTab('files')}
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
        <Tabs
          size="small"
          activeKey={tab}
          onChange={(key) => setTab(key as Tab)}
          items={[
            { key: 'files', label: 'Files', children: <KindFields shot={shot} settings={settings} /> },
            { key: 'range', label: 'Frames and size', children: <RangeFields shot={shot} /> },
            { key: 'names', label: 'Names and words', children: <NameFields shot={shot} settings={settings} /> },
          ].map((item) => ({ ...item, forceRender: true }))}
        />
      </Form>
    </Modal>
  );
}
