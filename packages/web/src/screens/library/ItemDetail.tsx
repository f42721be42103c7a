import { Button } from 'antd';
import { Link } from 'react-router';
import type { ShotColour, SpaceFacts } from '@june-haze/core';
import type { LibraryItem } from '@june-haze/contract';
import { useLibraryChanges } from '../../api/library.ts';
import { ProofMark } from '../../proof/ProofMark.tsx';
import { CurvePanel } from './CurvePanel.tsx';
import { GamutChart } from './GamutChart.tsx';
import { UseOfLut } from './UseOfLut.tsx';
import { useOpened } from './useOpened.ts';
import type { Opened } from './transforms.ts';

const megabytes = (n: number) => (n < 1e6 ? `${(n / 1000).toFixed(1)} kB` : `${(n / 1e6).toFixed(1)} MB`);

/** One item: what it is, its curves and gamuts, what is wrong with it, what it is for, and where it is used. */
export function ItemDetail({ item, items }: { item: LibraryItem; items: readonly LibraryItem[] }) {
  const { data: opened, error } = useOpened(item);
  const { remove } = useLibraryChanges();
  return (
    <div className="item" aria-label={item.name}>
      <header>
        <h2>{item.name}</h2>
        <span className="quiet">
          {item.facts.about} · <span className="number">{item.facts.files.length}</span>{' '}
          {item.facts.files.length === 1 ? 'file' : 'files'},{' '}
          <span className="number">{megabytes(item.facts.bytes)}</span> · content{' '}
          <span className="number">{item.id.slice(0, 8)}</span>
        </span>
        <span className="grow" />
        <Button size="small" disabled={item.usedBy.length > 0} onClick={() => remove.mutate(item.id)}>
          Remove
        </Button>
      </header>
      {item.facts.problems.length > 0 && (
        <section aria-label="Problems">
          {item.facts.problems.map((text) => (
            <p key={text} className="finding">
              <ProofMark state="differs" /> {text}
            </p>
          ))}
          <p className="quiet small">What does not need these can be used.</p>
        </section>
      )}
      {error && <p className="problem">{error.message}</p>}
      {item.use && <UseOfLut item={item} use={item.use} />}
      <p>
        <span className="strong">Used by</span>{' '}
        {item.usedBy.length === 0 ? (
          <span className="quiet">no shot</span>
        ) : (
          item.usedBy.map((u) => (
            <span key={u.shotId + u.how} className="use">
              <Link to={`/shots/${u.shotId}/build`}>{u.name}</Link> <span className="quiet">as {u.how}</span>
            </span>
          ))
        )}
      </p>
      {opened && (
        <div className={opened.colour ? 'two' : undefined}>
          <CurvePanel key={item.id} opened={opened} items={items} />
          {opened.colour && <GamutChart colour={opened.colour} height={330} />}
        </div>
      )}
      {opened?.colour && <ConfigTables opened={opened} />}
    </div>
  );
}

function kindOf(space: SpaceFacts, colour: ShotColour): string {
  if (space.isData) return 'data';
  if (space.linear) return 'linear';
  return colour.config?.findSpace(space.name)?.reference === 'display' ? 'display' : 'encoded';
}

function ConfigTables({ opened }: { opened: Opened }) {
  const colour = opened.colour!;
  const spaces = colour.spaces().filter((s) => s.origin === 'config');
  const variables = colour.config?.variables() ?? [];
  return (
    <div className="tables">
      <table>
        <caption>
          Spaces <span className="number quiet">{spaces.length}</span>
        </caption>
        <tbody>
          {spaces.map((s) => (
            <tr key={s.name}>
              <td className="strong">{s.name}</td>
              <td className="quiet">{kindOf(s, colour)}</td>
              <td className="quiet">{s.about}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <table>
        <caption>{variables.length ? 'Displays, views, looks and variables' : 'Displays, views and looks'}</caption>
        <tbody>
          {colour.displays().map((d) => (
            <tr key={d.name}>
              <td className="strong">{d.name}</td>
              <td className="quiet">{d.views.join(', ')}</td>
            </tr>
          ))}
          {colour.looks().map((l) => (
            <tr key={l.name}>
              <td className="strong">{l.name}</td>
              <td className="quiet">
                look in {l.processSpace}
                {l.about ? `: ${l.about}` : ''}
              </td>
            </tr>
          ))}
          {variables.map(({ name, value }) => (
            <tr key={`$${name}`}>
              <td className="strong">${name}</td>
              <td className="quiet">{value === undefined ? 'variable without a value' : `variable, ${value}`}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
