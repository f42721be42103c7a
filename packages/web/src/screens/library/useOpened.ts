import { useQuery } from '@tanstack/react-query';
import type { LibraryItem } from '@june-haze/contract';
import { loadBundle } from '../../api/bundles.ts';
import { openItem } from './transforms.ts';

/** An item's files fetched and opened; its content never changes under its id. */
export function useOpened(item: LibraryItem | undefined) {
  return useQuery({
    queryKey: ['opened', item?.id],
    queryFn: async () => openItem(item!, await loadBundle(item!.id)),
    enabled: item !== undefined,
    staleTime: Infinity,
    structuralSharing: false,
    retry: false,
  });
}
