import { Segmented, Select } from 'antd';
import type { Choice, Opened } from './transforms.ts';

interface Props {
  opened: Opened;
  choice: Choice;
  onChange: (choice: Choice) => void;
  label: string;
}

/** Which way through a config: a view of a display, or from space to space. LUTs have only the one. */
export function TransformPicker({ opened, choice, onChange, label }: Props) {
  const { colour } = opened;
  if (!colour || choice.kind === 'lut') return null;
  const spaces = colour
    .spaces()
    .filter((s) => s.origin === 'config' && !s.isData)
    .map((s) => ({ value: s.name, label: s.name }));
  const displays = colour.displays();
  const first = displays[0];
  const toView = (): Choice => ({
    kind: 'view',
    from: choice.from,
    display: first?.name ?? '',
    view: first?.views[0] ?? '',
    look: 'own',
  });
  return (
    <div className="chooser" role="group" aria-label={label}>
      <Segmented
        size="small"
        value={choice.kind}
        options={[
          { value: 'view', label: 'view', disabled: !first },
          { value: 'space', label: 'space' },
        ]}
        onChange={(kind) =>
          onChange(kind === 'view' ? toView() : { kind: 'space', from: choice.from, to: spaces.at(-1)?.value ?? '' })
        }
      />
      <Select
        size="small"
        aria-label={`${label}: from`}
        value={choice.from}
        options={spaces}
        onChange={(from) => onChange({ ...choice, from })}
        popupMatchSelectWidth={false}
      />
      <span className="quiet">to</span>
      {choice.kind === 'space' ? (
        <Select
          size="small"
          aria-label={`${label}: to`}
          value={choice.to}
          options={spaces}
          onChange={(to) => onChange({ ...choice, to })}
          popupMatchSelectWidth={false}
        />
      ) : (
        <>
          <Select
            size="small"
            aria-label={`${label}: view`}
            value={`${choice.display}\n${choice.view}`}
            options={displays.flatMap((d) =>
              d.views.map((v) => ({ value: `${d.name}\n${v}`, label: `${d.name} · ${v}` })),
            )}
            onChange={(value) => {
              const [display, view] = value.split('\n') as [string, string];
              onChange({ ...choice, display, view });
            }}
            popupMatchSelectWidth={false}
          />
          {colour.looks().length > 0 && (
            <Select
              size="small"
              aria-label={`${label}: look`}
              value={choice.look}
              options={[
                { value: 'own', label: 'its own look' },
                { value: 'none', label: 'no look' },
                ...colour.looks().map((l) => ({ value: l.name, label: l.name })),
              ]}
              onChange={(look) => onChange({ ...choice, look })}
              popupMatchSelectWidth={false}
            />
          )}
        </>
      )}
    </div>
  );
}
