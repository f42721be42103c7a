import { App, Button, Input, Select } from 'antd';
import { ledgerWords } from '@june-haze/core';
import type { KeptRecipe } from '@june-haze/contract';
import { useNavigate } from 'react-router';
import { useRecipeChanges } from '../../api/recipes.ts';
import { useShelf } from '../../api/shots.ts';
import { askRemoveRecipe } from './askRemoveRecipe.ts';
import { recipeCounts } from './RecipeRows.tsx';

/** A recipe: its name, what it does in plain words, the passes that it asks for, and the way into a shot. */
export function RecipeDetail({ kept: { id, name, recipe } }: { kept: KeptRecipe }) {
  const { rename, remove } = useRecipeChanges();
  const { data: shots = [] } = useShelf();
  const { message, modal } = App.useApp();
  const navigate = useNavigate();
  const words = ledgerWords({ version: 2, entries: recipe.entries, mattes: recipe.mattes }, (word) => `no. ${word}`);
  const failed = (e: Error) => void message.error(e.message, 8);
  return (
    <article className="item" aria-label={name}>
      <header>
        <Input
          aria-label="Name of the recipe"
          key={name}
          defaultValue={name}
          maxLength={80}
          style={{ width: 260 }}
          onPressEnter={(e) => e.currentTarget.blur()}
          onBlur={(e) => {
            const next = e.target.value.trim();
            if (next && next !== name) rename.mutate({ id, name: next }, { onError: failed });
          }}
        />
        <span className="quiet">{recipeCounts(recipe)}</span>
        <span className="grow" />
        <Select
          aria-label="Add to a shot"
          placeholder="Add to a shot …"
          style={{ width: 190 }}
          value={null}
          options={shots.map((s) => ({ value: s.id, label: s.name }))}
          onChange={(shot: string | null) => shot && void navigate(`/shots/${shot}/build?recipe=${id}`)}
        />
        <Button
          onClick={() =>
            askRemoveRecipe(modal, name, () =>
              remove.mutate(id, { onSuccess: () => void navigate('/library'), onError: failed }),
            )
          }
        >
          Remove
        </Button>
      </header>
      <section aria-label="What it does">
        {words.map((line, i) => (
          <p key={i}>{line}</p>
        ))}
      </section>
      {recipe.wants.length > 0 && (
        <section aria-label="Passes that it asks for">
          <h2>Passes that it asks for</h2>
          <p className="quiet">
            In a shot they are found by name, else by role; what is not found is listed and left out.
          </p>
          <table className="wants">
            <thead>
              <tr>
                <th scope="col">Pass</th>
                <th scope="col">Role</th>
                <th scope="col">Source</th>
              </tr>
            </thead>
            <tbody>
              {recipe.wants.map(({ source, pass, role }) => (
                <tr key={`${source} ${pass}`}>
                  <td>{pass}</td>
                  <td>{role}</td>
                  <td className="number">{source}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </article>
  );
}
