import { Button, Form, Segmented, Select } from 'antd';
import { isOfWhatItIsAppliedTo } from '@june-haze/core';
import type { ChosenPass, OutputSettings, Shot } from '@june-haze/contract';

const layerings: { value: OutputSettings['layering']; label: string }[] = [
  { value: 'together', label: 'one part' },
  { value: 'parts', label: 'a part each' },
  { value: 'files', label: 'a file each' },
];

/** Which passes and mattes are packed anew, and how they lie in files. */
export function PassesFields({ shot }: { shot: Shot }) {
  const form = Form.useFormInstance<OutputSettings>();
  const all = shot.ledger.document.mattes ?? {};
  const mattes = Object.keys(all).filter((m) => !isOfWhatItIsAppliedTo(m, all));
  return (
    <>
      <Form.Item name="passes" label="Passes">
        <PassesChoice shot={shot} />
      </Form.Item>
      {mattes.length > 0 && (
        <Form.Item name="mattes" label="Mattes">
          <Select
            mode="multiple"
            maxTagCount={4}
            placeholder="of the ledger, as halves"
            options={mattes.map((value) => ({ value }))}
          />
        </Form.Item>
      )}
      <Form.Item name="layering" label="In files">
        <Segmented
          options={layerings}
          onChange={(value) => {
            const name = form.getFieldValue('fileName') as string;
            if (value === 'files' && !name.includes('{pass}'))
              form.setFieldValue('fileName', name.replace(/_\{space\}/, '_{pass}'));
          }}
        />
      </Form.Item>
    </>
  );
}

/** All passes of the shot's EXR files, with the source that each is of. */
export const passesOf = (shot: Shot): ChosenPass[] =>
  shot.sources
    .filter((s) => s.fileKind === 'exr' && s.reading.use === 'plate')
    .flatMap((s) => s.passes.map((p) => ({ sourceId: s.id, pass: p.name })));

const keyOf = ({ sourceId, pass }: ChosenPass) => `${sourceId} ${pass}`;

function PassesChoice({
  shot,
  value = [],
  onChange,
}: {
  shot: Shot;
  value?: readonly ChosenPass[];
  onChange?: (passes: ChosenPass[]) => void;
}) {
  const all = passesOf(shot);
  const byKey = new Map([...value, ...all].map((p) => [keyOf(p), p]));
  const options = shot.sources
    .map((s) => ({
      label: s.name,
      options: s.passes
        .filter((p) => all.some((a) => a.sourceId === s.id && a.pass === p.name))
        .map((p) => ({ value: keyOf({ sourceId: s.id, pass: p.name }), label: p.name, role: p.role })),
    }))
    .filter((group) => group.options.length > 0);
  const roleOf = new Map(options.flatMap((g) => g.options.map((o) => [o.value, o.role] as const)));
  return (
    <>
      <Select
        mode="multiple"
        aria-label="Passes to write"
        maxTagCount={6}
        placeholder="choose passes"
        value={value.map(keyOf)}
        options={options}
        optionFilterProp="label"
        optionRender={({ label, value: key }) => (
          <span>
            {label} <span className="quiet">{roleOf.get(String(key))}</span>
          </span>
        )}
        onChange={(keys: string[]) => onChange?.(keys.flatMap((k) => byKey.get(k) ?? []))}
      />
      <div className="name-words">
        <Button size="small" onClick={() => onChange?.(all)}>
          All {all.length}
        </Button>
        <Button size="small" onClick={() => onChange?.([])}>
          None
        </Button>
        <span className="quiet">{value.length} chosen</span>
      </div>
    </>
  );
}
