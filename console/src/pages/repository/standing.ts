import type { Schemas } from '../../api/client';

type Source = Schemas['SourceView'];

/** A commit as people read it. */
export function short(commit: string): string {
  return commit.slice(0, 10);
}

/** How a repository stands, in a sentence. */
export function standing(source: Source): string {
  if (source.problem !== '') {
    return `What it has now is not published: ${source.problem}`;
  }
  if (source.head === '') {
    return 'Nothing is known of it yet.';
  }
  if (source.head === source.published) {
    return 'What it has now is live.';
  }
  return source.published === ''
    ? 'Nothing of it has been published yet.'
    : `What it has now is not live yet; ${short(source.published)} was published last.`;
}
