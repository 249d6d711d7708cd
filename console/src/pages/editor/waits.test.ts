import { describe, expect, it } from 'vitest';
import { asks, NotAPrerequisite, renamed, term, withAsk, withOtherAsk, withoutAsk } from './waits';

describe('what a prerequisite asks for', () => {
  it.each([
    ['', []],
    ['a succeeded', ['a|succeeded||']],
    ['a succeeded and (b failed or c skipped)', ['a|succeeded||', 'b|failed|or|', 'c|skipped|or|']],
    [
      'fleet/rosters/publish-crew succeeded and file feed arrived',
      ['fleet/rosters/publish-crew|succeeded||', 'feed|arrived||'],
    ],
    ['not (a failed or b skipped)', ['a|failed||not', 'b|skipped||not']],
    ['not (a failed and b skipped)', ['a|failed|or|not', 'b|skipped|or|not']],
    ['x ended with code 0 to 4, 8', ['x|ended with code 0 to 4, 8||']],
    ['x succeeded on the previous business date', ['x|succeeded on the previous business date||']],
    [
      'value kind of fuel/prices != "none and (all" if planned',
      ['fuel/prices|kind != "none and (all" if planned||'],
    ],
    ['file succeeded and value failed', ['file|succeeded||', 'value|failed||']],
  ])('%s', (text, wanted) => {
    expect(
      asks(text).map(
        (one) => `${one.on}|${one.words}|${one.alternative ? 'or' : ''}|${one.not ? 'not' : ''}`,
      ),
    ).toEqual(wanted);
  });

  it.each(['a', 'a succeeded and', '(a succeeded', 'a succeeded)', 'value x a > 1', 'or'])(
    '%s cannot be read',
    (text) => expect(() => asks(text)).toThrow(NotAPrerequisite),
  );
});

describe('is changed where it must be', () => {
  it.each([
    ['', 'b succeeded'],
    ['a succeeded', 'a succeeded and b succeeded'],
    ['a succeeded or c failed', '(a succeeded or c failed) and b succeeded'],
    ['(a succeeded or c failed)', '(a succeeded or c failed) and b succeeded'],
  ])('%s and b', (text, wanted) => expect(withAsk(text, term('job', 'b'))).toBe(wanted));

  it.each([
    ['a succeeded', 0, ''],
    ['a succeeded and b failed', 0, 'b failed'],
    ['a succeeded and b failed', 1, 'a succeeded'],
    ['a succeeded  and  b failed and c skipped', 1, 'a succeeded and c skipped'],
    ['a succeeded and (b failed or c skipped)', 1, 'a succeeded and (c skipped)'],
    ['a succeeded and not b failed', 1, 'a succeeded'],
    ['not (a failed)', 0, ''],
    ['a succeeded', 7, 'a succeeded'],
  ])('%s without %i', (text, nth, wanted) => {
    const left = withoutAsk(text, nth);
    expect(left.replace(/ +/g, ' ')).toBe(wanted);
    if (nth < asks(text).length) {
      expect(asks(left).length).toBe(asks(text).length - 1);
    }
  });

  it('another outcome', () => {
    expect(withOtherAsk('a succeeded and (b failed or c skipped)', 1, 'b ended')).toBe(
      'a succeeded and (b ended or c skipped)',
    );
  });

  it('another name, and not of what only looks like it', () => {
    expect(
      renamed('a succeeded and ab failed and x/a ended and file a arrived', (on, kind) =>
        kind === 'run' && on === 'a' ? 'z' : on,
      ),
    ).toBe('z succeeded and ab failed and x/a ended and file a arrived');
  });
});
