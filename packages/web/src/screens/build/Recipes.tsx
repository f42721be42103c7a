import { App, Button, Input, Modal } from 'antd';
import {
  balancedAgainstItsRender,
  matchRecipe,
  recipeOf,
  withRecipe,
  type LedgerDocument,
  type Recipe,
} from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { useRecipeChanges, useRecipes } from '../../api/recipes.ts';
import { useCommand } from '../../commands/registry.ts';
import { askRemoveRecipe } from '../library/askRemoveRecipe.ts';
import { copiedRows } from './copiedRows.ts';
import { flatten } from './edit.ts';
import { newId } from './newId.ts';

interface Props {
  shot: Shot;
  document: LedgerDocument;
  marked: ReadonlySet<string>;
  onSave: (document: LedgerDocument, words: string) => void;
}

/** Rows, ledgers and mattes that were kept or copied, to be added here; and this ledger, or its marked rows, kept. */
export function Recipes({ shot, document, marked, onSave }: Props) {
  const [asked, setAsked] = useSearchParams();
  const [opened, setOpened] = useState(false);
  // The Library leads here with a recipe to add.
  const open = opened || asked.has('recipe');
  const setOpen = (next: boolean) => {
    setOpened(next);
    if (!next && asked.has('recipe')) setAsked({}, { replace: true });
  };
  useCommand({ name: 'Recipes', keys: 'shift+r', run: () => setOpen(true) });
  return (
    <>
      <Button size="small" title="Recipes (Shift+R)" onClick={() => setOpen(true)}>
        Recipes
      </Button>
      <Modal open={open} title="Recipes" footer={null} width={620} onCancel={() => setOpen(false)} destroyOnHidden>
        <Inside {...{ shot, document, marked, onSave }} onDone={() => setOpen(false)} />
      </Modal>
    </>
  );
}

function Inside({ shot, document, marked, onSave, onDone }: Props & { onDone: () => void }) {
  const { data: kept = [], error } = useRecipes();
  const { keep, remove } = useRecipeChanges();
  const { message, modal } = App.useApp();
  const [name, setName] = useState('');
  const [copied] = useState(copiedRows);
  const rows = flatten(document.entries)
    .map((r) => r.entry)
    .filter((e) => marked.has(e.id));
  const add = (title: string, recipe: Recipe) => {
    const next = withRecipe(document, recipe, matchRecipe(recipe, shot.sources), newId);
    onSave(balancedAgainstItsRender(next, shot.sources), `added ${title}`.slice(0, 200));
    onDone();
  };
  const save = () => {
    const recipe = rows.length
      ? recipeOf(document, rows, shot.sources)
      : recipeOf(document, document.entries, shot.sources, Object.keys(document.mattes ?? {}));
    keep.mutate(
      { name: name.trim(), recipe },
      { onSuccess: () => setName(''), onError: (e) => void message.error(e.message) },
    );
  };
  return (
    <div className="recipes">
      <form
        className="beside"
        onSubmit={(e) => {
          e.preventDefault();
          if (name.trim()) save();
        }}
      >
        <Input
          size="small"
          aria-label="Name of the recipe"
          placeholder={rows.length ? `keep ${rows.length} marked as …` : 'keep the whole ledger as …'}
          maxLength={80}
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <Button size="small" htmlType="submit" disabled={!name.trim() || !document.entries.length}>
          Keep
        </Button>
      </form>
      {error && <p role="alert">{error.message}</p>}
      {copied && <One title="Copied rows" recipe={copied} shot={shot} onAdd={() => add('copied rows', copied)} />}
      {kept.map(({ id, name: title, recipe }) => (
        <One
          key={id}
          title={title}
          recipe={recipe}
          shot={shot}
          onAdd={() => add(title, recipe)}
          onRemove={() => askRemoveRecipe(modal, title, () => remove.mutate(id))}
        />
      ))}
      {!kept.length && !copied && (
        <p className="quiet">
          None yet. A recipe keeps rows with their mattes; in another shot passes are found by name or role.
        </p>
      )}
    </div>
  );
}

interface OneProps {
  title: string;
  recipe: Recipe;
  shot: Shot;
  onAdd: () => void;
  onRemove?: () => void;
}

/** A recipe, with what it finds in this shot and what it does not. */
function One({ title, recipe, shot, onAdd, onRemove }: OneProps) {
  const { found, unmatched } = matchRecipe(recipe, shot.sources);
  const mattes = Object.keys(recipe.mattes).length;
  const byRole = found.filter((f) => f.by === 'role' && f.as !== f.pass);
  return (
    <article className="recipe" aria-label={title}>
      <div style={{ minWidth: 0 }}>
        <div className="strong clip">{title}</div>
        <div className="quiet small">
          {recipe.entries.length} {recipe.entries.length === 1 ? 'row' : 'rows'}
          {mattes > 0 && `, ${mattes} ${mattes === 1 ? 'matte' : 'mattes'}`} · {found.length} of {recipe.wants.length}{' '}
          passes found here
        </div>
        {byRole.length > 0 && (
          <div className="small">by role: {byRole.map((f) => `${f.as} for ${f.pass}`).join(', ')}</div>
        )}
        {unmatched.length > 0 && (
          <div className="small" role="status">
            not found, left out: {unmatched.map((u) => `${u.pass} (${u.role})`).join(', ')}
          </div>
        )}
      </div>
      <Button size="small" disabled={!found.length && recipe.wants.length > 0} onClick={onAdd}>
        Add to the ledger
      </Button>
      {onRemove && (
        <Button size="small" onClick={onRemove}>
          Remove
        </Button>
      )}
    </article>
  );
}
