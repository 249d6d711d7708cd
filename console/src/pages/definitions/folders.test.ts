import { describe, expect, it } from 'vitest';
import { definitionAddress } from './address';
import { folders, type Definition } from './folders';

function one(kind: string, name: string, department = ''): Definition {
  return { kind, name, department, title: name, text: '', usedBy: [], revision: 1 } as never;
}

describe('folders', () => {
  const all = [
    one('host', 'depot'),
    one('stream', 'fuel/stock', 'Depot'),
    one('stream', 'tide/import', 'Fleet'),
    one('stream', 'loose'),
    one('file-watch', 'feed'),
    one('stream', 'fuel/bunkering', 'Depot'),
  ];

  it('hold streams by department, and all others by kind', () => {
    expect(folders(all, '').map((folder) => [folder.title, folder.definitions.length])).toEqual([
      ['Depot', 2],
      ['Fleet', 1],
      ['No department', 1],
      ['File watches', 1],
      ['Hosts', 1],
    ]);
  });

  it('hold only what has the text in its name, kind or department', () => {
    expect(folders(all, ' DEPOT ').map((folder) => folder.title)).toEqual(['Depot', 'Hosts']);
    expect(folders(all, 'nowhere')).toEqual([]);
  });
});

describe('the address of a definition', () => {
  it('keeps the slashes of a path and nothing else that means something', () => {
    expect(definitionAddress('stream', 'fuel/stock')).toBe('/definitions/stream/fuel/stock');
    expect(definitionAddress('alerts-of', 'department A?b#c')).toBe(
      '/definitions/alerts-of/department%20A%3Fb%23c',
    );
  });
});
