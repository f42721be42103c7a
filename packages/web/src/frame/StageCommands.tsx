import { useNavigate } from 'react-router';
import { useCommand } from '../commands/registry.ts';

/** The stages of a shot, and the shelf, as commands. */
export function StageCommands({ shotId }: { shotId: string }) {
  const navigate = useNavigate();
  const go = (path: string) => () => void navigate(path);
  useCommand({ name: 'Go to Intake', keys: 'alt+1', run: go(`/shots/${shotId}/intake`) });
  useCommand({ name: 'Go to Match', keys: 'alt+2', run: go(`/shots/${shotId}/match`) });
  useCommand({ name: 'Go to Build', keys: 'alt+3', run: go(`/shots/${shotId}/build`) });
  useCommand({ name: 'Go to Output', keys: 'alt+4', run: go(`/shots/${shotId}/output`) });
  useCommand({ name: 'Go to the Library', keys: 'alt+9', run: go('/library') });
  useCommand({ name: 'Go to the Shelf', keys: 'alt+0', run: go('/') });
  return null;
}
