import { memo } from 'react';
import { useCommand } from '../../commands/registry.ts';
import type { QuickComparison } from './quick.ts';

interface Props {
  readonly quick: readonly QuickComparison[];
  readonly onPress: (quick: QuickComparison) => void;
}

/** The comparisons that have a key: it is held or tapped. */
export const QuickCommands = memo(function QuickCommands({ quick, onPress }: Props) {
  return quick.map((q) => <QuickCommand key={q.id} quick={q} onPress={onPress} />);
});

function QuickCommand({ quick, onPress }: { quick: QuickComparison; onPress: Props['onPress'] }) {
  const { name, keys, choice } = quick;
  useCommand({ name, keys, run: () => onPress(quick), enabled: choice !== undefined });
  return null;
}
