import { Select } from 'antd';
import { useLibrary } from '../api/library.ts';

interface LookFile {
  readonly id: string;
  readonly name: string;
  readonly space: string;
}

interface Props {
  id?: string;
  label?: string;
  value: LookFile | null;
  onChange: (file: LookFile | null) => void;
}

/** LUTs and CDLs of the Library that are for looks, each on numbers of the space that it expects. */
export function LookFileSelect({ id, label, value, onChange }: Props) {
  const { data: library = [] } = useLibrary();
  const looks = library.flatMap((i) => (i.use?.as === 'look' ? [{ ...i, space: i.use.space }] : []));
  return (
    <Select
      id={id}
      aria-label={label}
      size="small"
      value={value?.id ?? ''}
      options={[
        { value: '', label: looks.length ? 'none' : 'none in the Library' },
        ...looks.map((l) => ({
          value: l.id,
          label: `${l.version > 1 ? `${l.name} · ${l.version}` : l.name}, on ${l.space}`,
        })),
        ...(value && !looks.some((l) => l.id === value.id)
          ? [{ value: value.id, label: `${value.name}, no longer in the Library` }]
          : []),
      ]}
      onChange={(wanted: string) => {
        const item = looks.find((l) => l.id === wanted);
        onChange(item ? { id: item.id, name: item.name, space: item.space } : null);
      }}
    />
  );
}
