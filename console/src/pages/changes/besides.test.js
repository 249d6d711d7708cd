import { expect, it } from 'vitest';
import { besides } from './besides';
it('lines that stay are beside each other, and those that change too', () => {
    expect(besides('a\nb\nc\n', 'a\nx\nc\nd\n')).toEqual([
        { before: 'a', after: 'a', changed: false },
        { before: 'b', after: 'x', changed: true },
        { before: 'c', after: 'c', changed: false },
        { before: undefined, after: 'd', changed: true },
    ]);
});
it('what is new has nothing on the left', () => {
    expect(besides('', 'a\n')).toEqual([{ before: undefined, after: 'a', changed: true }]);
    expect(besides('', '')).toEqual([]);
});
it('both sides put together are the texts they came from', () => {
    const texts = ['a\nb\nb\nc', 'b\nc\nb\na\nc', 'x', 'c\nb\na'];
    for (const before of texts) {
        for (const after of texts) {
            const all = besides(before, after);
            const side = (key) => all
                .map((line) => line[key])
                .filter((line) => line !== undefined)
                .join('\n');
            expect(side('before')).toBe(before);
            expect(side('after')).toBe(after);
        }
    }
});
