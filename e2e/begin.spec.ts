import { expect, test } from '@playwright/test';
import { choose, demoReady, newShot, readShot } from './steps.ts';

test('an empty ledger shows the beauty and ways to begin that were tried; what keeps it from balancing is told and mended', async ({
  page,
  request,
}) => {
  test.setTimeout(240_000);
  await demoReady(request);
  const id = await newShot(page, 'Begun', 'landing', 'landing.####.exr');
  await page.getByRole('link', { name: /^Build/ }).click();
  await expect(page.getByText('beauty of landing.####.exr')).toBeVisible();
  const ways = page.getByRole('region', { name: 'Ways to begin' });
  const components = ways.getByRole('article', { name: 'Light components summed' });
  await expect(components).toContainText(
    'diffuse_direct + diffuse_indirect + emission + specular_direct + specular_indirect + volume balances to half rounding.',
  );
  await expect(ways.getByRole('article')).toHaveCount(3);
  await components.getByRole('button', { name: 'Begin with this' }).click();
  await expect(page.getByTestId('ledger-row')).toHaveCount(6);
  await expect(page.getByTestId('balance')).toContainText('balanced');

  // A row that is switched off is missing, and the balance says which it is.
  await page.getByRole('switch', { name: 'Volume on' }).click();
  await expect(page.getByTestId('balance')).toContainText('off by');
  await page.getByRole('button', { name: 'Why' }).click();
  const why = page.getByRole('list', { name: 'Why it does not balance' });
  await expect(why).toContainText('volume is missing.');
  await expect(why).toContainText('nothing is left but half rounding');
  await why.getByRole('button', { name: 'Put it in' }).click();
  await expect(page.getByTestId('ledger-row')).toHaveCount(6);
  await expect(page.getByTestId('balance')).toContainText('balanced');
  await expect(why).toBeHidden();

  // What is done with the passes is no fault of theirs.
  const { ledger } = await readShot(request, id);
  const entries = ledger.document.entries.map((e, i) => (i === 0 ? { ...e, mix: 0.5 } : e));
  const document = { ...ledger.document, entries };
  const saved = await request.put(`/api/shots/${id}/ledger`, {
    data: { base: ledger.revision, document, summary: 'mix' },
  });
  expect(saved.ok()).toBe(true);
  await expect(page.getByTestId('balance')).toContainText('balanced as it came; changed by');
  await expect(page.getByRole('link', { name: /^Build/ })).toContainText('balanced');

  // Rows are marked and grouped, kept as a recipe, and found by their passes in another shot.
  const row = (name: string) => page.getByRole('button', { name: new RegExp(`^${name}`) });
  await row('Emission').click({ modifiers: ['Control'] });
  await row('Specular, direct').click({ modifiers: ['Control'] });
  const marked = page.getByRole('toolbar', { name: 'Marked rows' });
  await marked.getByRole('button', { name: 'Duplicate' }).click();
  await expect(page.getByTestId('ledger-row')).toHaveCount(8);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByTestId('ledger-row')).toHaveCount(6);
  await marked.getByRole('button', { name: 'Group' }).click();
  await expect(page.getByTestId('ledger-row')).toHaveCount(7);
  await expect(page.getByTestId('balance')).toContainText('balanced as it came');
  await page.getByRole('button', { name: 'Recipes' }).click();
  await page.getByLabel('Name of the recipe').fill('Quay light');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(page.getByRole('article', { name: 'Quay light' })).toContainText('6 of 6 passes found here');

  const other = await newShot(page, 'Begun by recipe', 'landing', 'landing.####.exr');
  await page.getByRole('link', { name: /^Build/ }).click();
  await page.getByRole('button', { name: 'Recipes' }).click();
  await page.getByRole('article', { name: 'Quay light' }).getByRole('button', { name: 'Add to the ledger' }).click();
  await expect(page.getByTestId('ledger-row')).toHaveCount(7);
  await expect(page.getByTestId('balance')).toContainText('balanced as it came');
  const made = (await readShot(request, other)).ledger.document;
  const was = (await readShot(request, id)).ledger.document;
  expect(made.entries.map((e) => [e.name, e.mix, e.enabled])).toEqual(
    was.entries.map((e) => [e.name, e.mix, e.enabled]),
  );

  // In the Library it is read, named otherwise, and led into a shot; removing it asks.
  await page.goto('/library');
  await page.getByRole('link', { name: /^Quay light/ }).click();
  const detail = page.getByRole('main').getByRole('article');
  await expect(detail).toContainText('adds diffuse_direct of no. 1');
  await expect(detail.getByRole('table')).toContainText('specular_direct');
  await detail.getByLabel('Name of the recipe').fill('Quay at dusk');
  await detail.getByLabel('Name of the recipe').press('Enter');
  await expect(page.getByRole('link', { name: /^Quay at dusk/ })).toBeVisible();
  await choose(page, 'Add to a shot', 'Begun by recipe');
  await page.waitForURL(new RegExp(`${other}/build`));
  const kept = page.getByRole('dialog', { name: 'Recipes' }).getByRole('article', { name: 'Quay at dusk' });
  await expect(kept).toContainText('6 of 6 passes found here');
  await kept.getByRole('button', { name: 'Remove' }).click();
  await page
    .getByRole('dialog', { name: /^Remove the recipe/ })
    .getByRole('button', { name: 'Remove' })
    .click();
  await expect(kept).toBeHidden();
  expect(await (await request.get('/api/recipes')).json()).toEqual([]);
});
