/** What is asked about notes and folders. */
import { store } from '../../store/store';

export type Asked =
  | { readonly kind: 'note' | 'hand' | 'rename' | 'move' | 'tags' | 'delete' | 'kept'; readonly ids: readonly string[] }
  | { readonly kind: 'folder' | 'edit-folder' | 'move-folder'; readonly folder: string }
  | { readonly kind: 'new-folder'; readonly parent: string | null }
  | { readonly kind: 'empty-bin' };

export const titleOf = (ids: readonly string[]): string => (ids.length === 1 ? (store.getState().library.headers.find((h) => h.id === ids[0])?.title ?? 'Note') : `${ids.length} notes`);
