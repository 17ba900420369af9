/** What of the library is looked at. */
export type Where = { readonly kind: 'folder'; readonly folder: string | null } | { readonly kind: 'all' | 'archive' | 'bin' };
