import { Button, Input } from 'antd';
import { useRef, useState, type DragEvent } from 'react';
import { NavLink, useNavigate, useParams } from 'react-router';
import type { LibraryItem } from '@june-haze/contract';
import { useLibrary, useLibraryChanges, type DroppedFile } from '../../api/library.ts';
import { TopLine } from '../../frame/TopLine.tsx';
import { ProofMark } from '../../proof/ProofMark.tsx';
import { droppedFiles } from '../../api/dropped.ts';
import { useRecipes } from '../../api/recipes.ts';
import { FoundConfigs } from './FoundConfigs.tsx';
import { ItemDetail } from './ItemDetail.tsx';
import { RecipeDetail } from './RecipeDetail.tsx';
import { RecipeRows } from './RecipeRows.tsx';

const kinds = [
  ['config', 'Configs'],
  ['lut', 'LUTs'],
  ['cdl', 'CDLs'],
] as const;

/** Configs, LUTs and CDLs: brought in by dropping, kept by content, looked at by their curves and gamuts; and the recipes that Build keeps. */
export function Library() {
  const { data: items, error } = useLibrary();
  const { itemId, recipeId } = useParams();
  const { data: recipes = [] } = useRecipes();
  const { add } = useLibraryChanges();
  const navigate = useNavigate();
  const [search, setSearch] = useState('');
  const [over, setOver] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const shown = items?.filter((i) => i.name.toLowerCase().includes(search.toLowerCase())) ?? [];
  const recipe = recipes.find((r) => r.id === recipeId);
  const chosen = items?.find((i) => i.id === itemId) ?? shown[0];
  const bringIn = (files: readonly DroppedFile[]) =>
    files.length > 0 &&
    add.mutate(files, { onSuccess: (ids) => void (ids.length > 0 && navigate(`/library/${ids.at(-1)!}`)) });
  const onDrop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    void droppedFiles(event.dataTransfer).then(bringIn);
  };
  return (
    <div
      className={`library${over ? ' over' : ''}`}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={(e) => e.currentTarget === e.target && setOver(false)}
      onDrop={onDrop}
    >
      <TopLine title="Library" below />
      <div className="bar">
        <span className="quiet">
          Drop a config’s folder, a zip of it, or LUT and CDL files anywhere here. The same content is kept once.
        </span>
        <span className="grow" />
        <Input
          size="small"
          allowClear
          placeholder="Find"
          aria-label="Find in the Library"
          style={{ width: 160 }}
          value={search}
          onChange={(e) => setSearch(e.target.value)}
        />
        <input
          ref={file}
          type="file"
          multiple
          hidden
          aria-label="Files to bring in"
          onChange={(e) => {
            bringIn([...(e.target.files ?? [])].map((f) => ({ path: f.name, file: f })));
            e.target.value = '';
          }}
        />
        <Button size="small" type="primary" loading={add.isPending} onClick={() => file.current?.click()}>
          Bring in
        </Button>
      </div>
      <div className="shelves">
        <nav className="scroll" aria-label="Items">
          {error && <div className="empty">{error.message}</div>}
          {kinds.map(([kind, title]) => {
            const group = shown.filter((i) => i.kind === kind);
            return group.length === 0 ? null : (
              <div key={kind}>
                <h2>{title}</h2>
                {group.map((item) => (
                  <ItemRow key={item.id} item={item} chosen={!recipe && item.id === chosen?.id} />
                ))}
              </div>
            );
          })}
          <RecipeRows recipes={recipes.filter((r) => r.name.toLowerCase().includes(search.toLowerCase()))} />
          <FoundConfigs />
        </nav>
        <main className="scroll">
          {recipe ? (
            <RecipeDetail key={recipe.id} kept={recipe} />
          ) : chosen ? (
            <ItemDetail item={chosen} items={items ?? []} />
          ) : (
            items && (
              <div className="empty">
                Nothing here yet. The demo brings the stand-in renderer’s config with its first frame; your own arrive
                by dropping.
              </div>
            )
          )}
        </main>
      </div>
    </div>
  );
}

function ItemRow({ item, chosen }: { item: LibraryItem; chosen: boolean }) {
  const { problems } = item.facts;
  return (
    <NavLink to={`/library/${item.id}`} className={`library-row${chosen ? ' here' : ''}`} aria-current={chosen}>
      <span className="strong clip">
        {item.name}
        {item.version > 1 && <span className="quiet"> · version {item.version}</span>}
      </span>
      <span className="quiet small clip">{item.facts.about}</span>
      <span className="small">
        {problems.length > 0 && (
          <>
            <ProofMark state="differs" /> {problems.length} {problems.length === 1 ? 'problem' : 'problems'} ·{' '}
          </>
        )}
        <span className="quiet">
          {item.usedBy.length === 0 ? 'not used' : `used by ${item.usedBy.map((u) => u.name).join(', ')}`}
        </span>
      </span>
    </NavLink>
  );
}
