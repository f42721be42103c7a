import { Button, Form, Input, InputNumber } from 'antd';
import {
  fileOfFrame,
  nameWords,
  outputPattern,
  outputSettingsSchema,
  type OutputSettings,
  type Shot,
} from '@june-haze/contract';

/** What an output's files are called and where they lie, shown as it will be; and what they say of themselves. */
export function NameFields({ shot, settings }: { shot: Shot; settings: OutputSettings }) {
  const form = Form.useFormInstance<OutputSettings>();
  const now = Form.useWatch((all: OutputSettings) => all, form) ?? settings;
  const parsed = outputSettingsSchema.safeParse({ ...settings, ...now });
  const add = (word: string) =>
    form.setFieldValue('fileName', `${(form.getFieldValue('fileName') as string | undefined) ?? ''}${word}`);
  return (
    <>
      <Form.Item label="Folder" name="folder">
        <Input className="number" />
      </Form.Item>
      <Form.Item label="File name">
        <Form.Item name="fileName" noStyle>
          <Input className="number" aria-label="File name" />
        </Form.Item>
        <div className="name-words">
          {Object.entries(nameWords).map(([word, means]) => (
            <Button key={word} size="small" title={means} onClick={() => add(word)}>
              {word}
            </Button>
          ))}
          <Button size="small" title="the frame, as many digits as marks" onClick={() => add('####')}>
            ####
          </Button>
        </div>
      </Form.Item>
      <Form.Item label="Numbers">
        <Form.Item name="offset" noStyle>
          <InputNumber precision={0} aria-label="Offset of the files’ numbers" />
        </Form.Item>
        <span className="quiet"> added to the frame’s</span>
      </Form.Item>
      <Form.Item label="As it will be">
        {parsed.success ? (
          <span role="status" className="number" aria-label="Files as they will be">
            {filesOf(shot, parsed.data)}
          </span>
        ) : (
          <span className="quiet">{parsed.error.issues[0]!.message}</span>
        )}
      </Form.Item>
      <Form.Item label="Owner" name="owner">
        <Input placeholder="whose pictures these are; said in the files" />
      </Form.Item>
      <Form.Item label="Comments" name="comments">
        <Input.TextArea rows={2} placeholder="said in the files" />
      </Form.Item>
    </>
  );
}

/** The first file, and the last where there are more. */
function filesOf(shot: Shot, settings: OutputSettings): string {
  const pattern = outputPattern(shot, settings);
  const [first, last] = [settings.firstFrame, settings.lastFrame].map((f) => fileOfFrame({ pattern, settings }, f));
  return first === last ? first! : `${first} … ${last!.split('/').at(-1)}`;
}
