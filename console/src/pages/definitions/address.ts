/** Where the console shows a definition. */
export function definitionAddress(kind: string, name: string): string {
  return `/definitions/${encodeURIComponent(kind)}/${name.split('/').map(encodeURIComponent).join('/')}`;
}
