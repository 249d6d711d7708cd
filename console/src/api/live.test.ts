import { describe, expect, it, vi } from 'vitest';
import { follower, keyOf } from './live';

describe('live topics', () => {
  it('are the queries of a list or of one thing', () => {
    expect(keyOf('runs')).toEqual(['runs']);
    expect(keyOf('run 12')).toEqual(['run', 12]);
  });

  it('make a list stale at once, then at most once in a while, and once after the last', () => {
    vi.useFakeTimers();
    const asked: unknown[] = [];
    const follow = follower({
      invalidateQueries: (filters) => {
        asked.push(filters?.queryKey);
        return Promise.resolve();
      },
    });
    for (let i = 0; i < 10; i++) {
      follow(['today', 'run 7']);
      vi.advanceTimersByTime(300);
    }
    const lists = () => asked.filter((key) => (key as string[])[0] === 'today').length;
    expect(lists()).toBe(2);
    vi.advanceTimersByTime(3_000);
    expect(lists()).toBe(2);
    expect(asked.filter((key) => (key as string[])[0] === 'run')).toHaveLength(10);
    vi.useRealTimers();
  });
});
