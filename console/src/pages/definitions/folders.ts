import type { Schemas } from '../../api/client';

export type Definition = Schemas['DefinitionView'];

/** Definitions that stand together in the list. */
export interface Folder {
  title: string;
  definitions: Definition[];
}

/**
 * Streams by department, all others by kind; only those that have a text in their name, title or
 * department. Folders come in the order of their titles, streams first.
 */
export function folders(all: Definition[], text: string): Folder[] {
  const wanted = text.trim().toLowerCase();
  const found = new Map<string, Folder>();
  for (const one of all) {
    const words = `${one.kind} ${one.name} ${one.title} ${one.department}`.toLowerCase();
    if (!words.includes(wanted)) {
      continue;
    }
    const stream = one.kind === 'stream';
    const title = stream ? one.department || 'No department' : plural(one.kind);
    const key = `${stream ? 0 : 1} ${title}`;
    const folder = found.get(key) ?? { title, definitions: [] };
    folder.definitions.push(one);
    found.set(key, folder);
  }
  return [...found.entries()].sort(([a], [b]) => a.localeCompare(b)).map(([, folder]) => folder);
}

/** The title of a folder of a kind: file-watch, File watches. */
function plural(kind: string): string {
  const named: Record<string, string> = {
    'parameters-of': 'Parameters',
    'alerts-of': 'Rules of alerts',
    'for-each': 'Tables (for-each)',
    'file-watch': 'File watches',
    capacity: 'Capacities',
    duty: 'Duties',
  };
  const words = kind.replace(/-/g, ' ');
  return named[kind] ?? `${words.charAt(0).toUpperCase()}${words.slice(1)}s`;
}
