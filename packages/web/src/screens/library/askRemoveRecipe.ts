import type { App } from 'antd';

/** Asks before a recipe is removed: there is no way back. What was made by it stays. */
export function askRemoveRecipe(
  modal: Pick<ReturnType<typeof App.useApp>['modal'], 'confirm'>,
  name: string,
  remove: () => void,
): void {
  modal.confirm({
    title: `Remove the recipe ${name}?`,
    content: 'Ledgers that it was added to stay as they are.',
    okText: 'Remove',
    onOk: remove,
  });
}
