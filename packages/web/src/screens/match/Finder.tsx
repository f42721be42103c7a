import { Button } from 'antd';
import type { MatchRow } from '@june-haze/core';
import type { ApplyRow, Shot } from '@june-haze/contract';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { useFoundConfigs } from '../../api/library.ts';
import { useShotChange } from '../../api/shots.ts';
import { useCommand } from '../../commands/registry.ts';
import { DeriveView } from './DeriveView.tsx';
import { FinderRow, shortTitle } from './FinderRow.tsx';
import { useFinder } from './useFinder.ts';

/** What made the reference: a search over all that is known, its rows ranked, one of them set as the shot's. */
export function Finder({ shot }: { shot: Shot }) {
  const { match, sources, workingSpace } = shot;
  // What was found is of this picture and this frame; declared spaces and viewing do not matter to it.
  const about = JSON.stringify([
    [match.source, match.pass, match.reference, match.frame, workingSpace],
    sources.filter((s) => s.id === match.source || s.id === match.reference).map((s) => s.stamp),
  ]);
  const { busy, progress, result, problem, seconds, find, stop } = useFinder(shot.id, about);
  const { data: found = [] } = useFoundConfigs();
  const change = useShotChange();
  const [chosen, setChosen] = useState(0);
  const rows = useMemo(() => result?.ranking ?? [], [result]);
  const apply = (row: ApplyRow) => {
    const { space, configId, display, view, look, exposure, black, white, gamma, lookFile } = row;
    change.mutate({
      path: `/shots/${shot.id}/match/apply`,
      method: 'POST',
      body: { space, configId, display, view, look, exposure, black, white, gamma, lookFile },
    });
  };
  const findAndApply = async () => {
    setChosen(0);
    const found = await find();
    const sure = found && found.explained && (found.verdict === 'identical' || found.verdict === 'equal');
    if (sure && found.best && !isPresent(found.best, shot)) apply(found.best);
  };
  useCommand({ name: 'Find what made the reference, set it and prove it', keys: 'w', run: () => void findAndApply() });
  useCommand({ name: 'Find what made the reference', keys: 'shift+w', run: () => void find() });
  useCommand({
    name: 'Set the row of the finder that is chosen',
    keys: 'shift+enter',
    run: () => rows[chosen] && apply(rows[chosen]),
    enabled: rows.length > 0,
  });
  useCommand({
    name: 'Take back what was set by the finder',
    keys: 'shift+backspace',
    run: () => change.mutate({ path: `/shots/${shot.id}/match/undo`, method: 'POST' }),
    enabled: match.canUndo,
  });
  const isSet = (row: MatchRow) => row.mistake === null && isPresent(row, shot);
  return (
    <section className="finder" aria-label="Finder">
      <div className="bar">
        <span className="strong">Which view made this picture</span>
        <span className="grow" />
        {busy ? (
          <>
            <span className="quiet" role="status">
              tried <span className="number">{progress?.tried ?? 0}</span> of{' '}
              <span className="number">{progress?.count ?? '…'}</span> views
            </span>
            <Button size="small" onClick={stop}>
              Stop
            </Button>
          </>
        ) : (
          <>
            {result && (
              <span className="quiet">
                <span className="number">{result.tried}</span> in <span className="number">{seconds?.toFixed(1)}</span>{' '}
                s
              </span>
            )}
            <Button size="small" type="primary" onClick={() => void findAndApply()} title="Find, set and prove (W)">
              Find and prove
            </Button>
          </>
        )}
      </div>
      <div className="inside scroll">
        {problem !== undefined && (
          <p className="problem" role="alert">
            {problem}
          </p>
        )}
        {!busy && !result && problem === undefined && (
          <p className="quiet">
            Every space, view and look of the built-in config and the Library’s, its LUTs too, is held against the
            reference, with exposure, levels and gamma and with the usual mistakes. What makes it is set as this shot’s,
            and proven.
          </p>
        )}
        {result && (
          <>
            <p role="status">
              {result.reason} {result.said}
            </p>
            {result.fitness.doubts.map((d) => (
              <p key={d} className="doubt">
                {d}
              </p>
            ))}
          </>
        )}
        {!busy && found.length > 0 && (
          <p className="quiet">
            {found.length === 1 ? 'A config lies' : `${found.length} configs lie`} in the media folders and{' '}
            {found.length === 1 ? 'is' : 'are'} not searched: bring {found.length === 1 ? 'it' : 'them'} into the{' '}
            <Link to="/library">Library</Link> first.
          </p>
        )}
        {busy && !result && progress && (
          <ol className="rows">
            {progress.rows.map((row, i) => (
              <li key={i} className="finder-row">
                <span className="clip">{shortTitle(row)}</span>
                <span className="number quiet">{row.error.toFixed(1)}</span>
              </li>
            ))}
          </ol>
        )}
        <div
          className="rows"
          role="listbox"
          aria-label="Rows of the finder"
          tabIndex={rows.length ? 0 : -1}
          onKeyDown={(e) => {
            if (e.key === 'ArrowDown' || e.key === 'ArrowUp') {
              e.preventDefault();
              e.stopPropagation();
              setChosen((c) => Math.min(rows.length - 1, Math.max(0, c + (e.key === 'ArrowDown' ? 1 : -1))));
            } else if (e.key === 'Enter' && rows[chosen]) {
              e.stopPropagation();
              apply(rows[chosen]);
            }
          }}
        >
          {rows.map((row, i) => (
            <FinderRow
              key={i}
              row={row}
              chosen={i === chosen}
              set={isSet(row)}
              onChoose={() => setChosen(i)}
              onApply={() => apply(row)}
            />
          ))}
        </div>
        {result && result.ties.length > 0 && (
          <p className="quiet">
            The first gives the same for every colour as{' '}
            {result.ties
              .slice(0, 4)
              .map((t) => shortTitle(t))
              .join('; ')}
            {result.ties.length > 4 ? ` and ${result.ties.length - 4} more` : ''}.
          </p>
        )}
        <DeriveView shot={shot} wanted={result !== undefined && !result.explained} onUse={apply} />
        {result?.left.map((l) => (
          <p key={l.what} className="quiet">
            Not tried: {l.what}. {l.why}
          </p>
        ))}
      </div>
      {match.canUndo && (
        <div className="bar">
          <span className="quiet">Declared space and viewing were set from here.</span>
          <span className="grow" />
          <Button size="small" onClick={() => change.mutate({ path: `/shots/${shot.id}/match/undo`, method: 'POST' })}>
            Take back
          </Button>
        </div>
      )}
    </section>
  );
}

/** Whether a row is what the shot is set to. */
function isPresent(row: ApplyRow, { viewing, colour, sources, match }: Shot): boolean {
  const source = sources.find((s) => s.id === match.source);
  return (
    row.configId === colour.config &&
    row.space === source?.declaredSpace &&
    row.display === viewing.display &&
    row.view === viewing.view &&
    (row.look ?? '') === (viewing.look ?? '') &&
    row.lookFile?.id === viewing.lookFile?.id &&
    row.exposure === viewing.exposure &&
    row.black === viewing.black &&
    row.white === viewing.white &&
    row.gamma === viewing.gamma
  );
}
