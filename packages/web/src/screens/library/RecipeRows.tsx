import type { KeptRecipe } from '@june-haze/contract';
import { NavLink } from 'react-router';

/** The recipes that Build keeps, as rows of the Library's list. */
export function RecipeRows({ recipes }: { recipes: readonly KeptRecipe[] }) {
  if (!recipes.length) return null;
  return (
    <div>
      <h2>Recipes</h2>
      {recipes.map(({ id, name, recipe }) => (
        <NavLink
          key={id}
          to={`/library/recipes/${id}`}
          className={({ isActive }) => `library-row${isActive ? ' here' : ''}`}
        >
          <span className="strong clip">{name}</span>
          <span className="quiet small clip">{recipeCounts(recipe)}</span>
        </NavLink>
      ))}
    </div>
  );
}

/** How many rows, mattes and passes a recipe has. */
export function recipeCounts({ entries, mattes, wants }: KeptRecipe['recipe']): string {
  const count = (n: number, one: string, many: string) => (n ? [`${n} ${n === 1 ? one : many}`] : []);
  return [
    ...count(entries.length, 'row', 'rows'),
    ...count(Object.keys(mattes).length, 'matte', 'mattes'),
    ...count(wants.length, 'pass', 'passes'),
  ].join(', ');
}
