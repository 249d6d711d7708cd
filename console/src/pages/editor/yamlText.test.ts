import { parse } from 'yaml';
import { describe, expect, it } from 'vitest';
import {
  CannotEdit,
  inFlow,
  withKey,
  withoutKey,
  withValue,
  type Path,
  type Plain,
} from './yamlText';

const NIGHT = `# The night's work.
stream: passenger/night-manifest
title: Night passenger manifest   # for people
schedule:
  days: business days
  at: "21:30"

parameters: { deck: all }
jobs:
  # First of all.
  close-bookings:
    title: Close bookings
    host: quay-north
    run: ./close-bookings.sh \${date}
  build:
    host: any of quays
    run: |
      ./build.sh
      ./again.sh
    takes: { ledger-slots: 1 }   # one is enough

  pay: { title: Pay out, host: ledger, run: "./pay.sh, at once", waits-for: build succeeded }
# The end.
`;

function lines(text: string): string[] {
  return text.split('\n');
}

/** Lines of one text that are not in another, as often as they are there. */
function gone(before: string, after: string): string[] {
  const left = lines(after);
  return lines(before).filter((line) => {
    const at = left.indexOf(line);
    if (at >= 0) {
      left.splice(at, 1);
    }
    return at < 0;
  });
}

function set(value: unknown, path: Path, to: Plain): unknown {
  const whole = structuredClone(value) as Record<string, never>;
  let at: Record<string, never> = whole;
  path.slice(0, -1).forEach((key) => {
    at = (at[key] ??= {} as never) as Record<string, never>;
  });
  at[path[path.length - 1] as string] = to as never;
  return whole;
}

describe('a value is set and all else stays', () => {
  const cases: [Path, Plain, number][] = [
    [['title'], 'Night', 1],
    [['title'], 'Night: all # of it', 1],
    [['schedule', 'at'], '22:00', 1],
    [['schedule', 'zone'], 'Europe/Oslo', 0],
    [['parameters', 'deck'], 'a, b', 1],
    [['parameters', 'pier'], 'no', 1],
    [['jobs', 'close-bookings', 'usually'], '4m to 9m', 0],
    [['jobs', 'close-bookings', 'run'], 'first\nsecond\n', 1],
    [['jobs', 'build', 'run'], './one.sh', 3],
    [['jobs', 'build', 'takes', 'ledger-slots'], 2, 1],
    [['jobs', 'build', 'retry'], { times: 3, wait: '1m' }, 0],
    [['jobs', 'pay', 'title'], 'Pay, at once', 1],
    [['jobs', 'pay', 'run'], 'a\nb', 1],
    [['jobs', 'pay', 'usually'], '1m', 1],
    [['jobs', 'pay', 'host'], 'any of quays', 1],
    [['jobs', 'new-one'], { host: 'ledger', run: 'true', takes: { slots: 1 } }, 0],
    [['places', 'pay'], '40 120', 0],
    [['tags'], ['a', 'b, c'], 0],
    [['about'], 'yes', 0],
    [['about'], '', 0],
    [['about'], '- not a list', 0],
    [['about'], '${date}: {x}', 0],
    [['parameters', 'odd'], '} ] , "', 1],
  ];
  it.each(cases)('%j = %j', (path, value, most) => {
    const out = withValue(NIGHT, path, value);
    expect(parse(out)).toEqual(set(parse(NIGHT), path, value));
    expect(gone(NIGHT, out).length).toBeLessThanOrEqual(most);
    expect(gone(NIGHT, out).filter((line) => line.startsWith('#'))).toEqual([]);
  });
});

describe('what is taken away takes nothing with it', () => {
  it.each([
    [['title']],
    [['schedule', 'days']],
    [['jobs', 'close-bookings']],
    [['jobs', 'build']],
    [['jobs', 'build', 'run']],
    [['jobs', 'build', 'takes']],
    [['jobs', 'pay']],
    [['jobs', 'pay', 'title']],
    [['jobs', 'pay', 'host']],
    [['jobs', 'pay', 'waits-for']],
  ] as Path[][])('%j', (path) => {
    const out = withoutKey(NIGHT, path as Path);
    const wanted = structuredClone(parse(NIGHT)) as Record<string, never>;
    let at = wanted;
    (path as string[]).slice(0, -1).forEach((key) => (at = at[key] as never));
    delete at[path[path.length - 1] as string];
    expect(parse(out)).toEqual(wanted);
    expect(out.startsWith("# The night's work.")).toBe(true);
    expect(out).toContain('# First of all.');
    expect(out.endsWith('# The end.\n')).toBe(true);
  });

  it('a mapping goes with its last key, but jobs stay', () => {
    expect(withoutKey('stream: a\nplaces: { x: 1 2 }\n', ['places', 'x'])).toBe('stream: a\n');
    expect(parse(withoutKey('stream: a\njobs:\n  x: { run: y }\n', ['jobs', 'x']))).toEqual({
      stream: 'a',
      jobs: {},
    });
  });
});

describe('odd texts', () => {
  it('a key that is there without a value gets one', () => {
    expect(withValue('stream: a\ntitle:\njobs: {}\n', ['title'], 'T')).toBe(
      'stream: a\ntitle: T\njobs: {}\n',
    );
    expect(parse(withValue('stream: a\njobs:\n', ['jobs', 'x'], { run: 'y' }))).toEqual({
      stream: 'a',
      jobs: { x: { run: 'y' } },
    });
  });
  it('without a line end at the end', () => {
    expect(withValue('stream: a', ['title'], 'T')).toBe('stream: a\ntitle: T\n');
  });
  it('empty mappings in braces', () => {
    expect(parse(withValue('jobs: {}', ['jobs', 'x'], { run: 'y' }))).toEqual({
      jobs: { x: { run: 'y' } },
    });
  });
  it('the second document', () => {
    const two = 'stream: a\njobs: {}\n---\nstream: b\ntitle: B\n';
    expect(withValue(two, ['title'], 'C', 1)).toBe(
      'stream: a\njobs: {}\n---\nstream: b\ntitle: C\n',
    );
    expect(withValue(two, ['title'], 'A', 0)).toBe(
      'stream: a\njobs: {}\ntitle: A\n---\nstream: b\ntitle: B\n',
    );
  });
  it('Windows line ends, tabs in comments and long dashes stay', () => {
    const odd = 'stream: a\r\ntitle: Früh – spät \t# \t\r\njobs: {}\r\n';
    expect(withValue(odd, ['jobs', 'x'], { run: 'y' })).toContain('Früh – spät \t# \t\r\n');
  });
  it('keys keep their quotes only where they need them', () => {
    expect(parse(withKey(NIGHT, ['jobs', 'pay'], 'pay-out')).jobs['pay-out'].title).toBe('Pay out');
  });
  it('a broken text is not edited', () => {
    expect(() => withValue('stream: [', ['title'], 'x')).toThrow(CannotEdit);
    expect(() => withValue('a: &x { b: 1 }\nc: *x\n', ['c', 'b'], 2)).toThrow(CannotEdit);
  });
  it('a million characters on a line are written and read again', () => {
    const long = 'x'.repeat(1_000_000);
    expect(parse(withValue('a: 1\n', ['b'], long)).b).toBe(long);
  });
});

describe('any value is read back as it was', () => {
  const hostile = [
    '',
    ' ',
    'a: b',
    '# c',
    '- d',
    '[',
    '}',
    "'",
    '"',
    '\\',
    '\t',
    '~',
    'null',
    'yes',
    '1e3',
    '0x1f',
    '2027-01-01',
    'é',
    '🚢',
    '*x',
    '&y',
    '!t',
    '|',
    '>',
    '%',
    '@',
    '`',
    '${a}',
    'a\nb',
    '\n',
    'a ',
    ' a',
    'a,b',
    '---',
    '...',
    '?',
    ':',
    '<<',
  ];
  it.each(hostile)('%j', (value) => {
    expect(parse(`[ ${inFlow(value)} ]`)).toEqual([value]);
    for (const text of ['stream: a\njobs: {}\n', '{ stream: a, jobs: {} }\n', NIGHT]) {
      for (const path of [['title'], ['jobs', 'j', 'run'], ['parameters', 'p']]) {
        expect(parse(withValue(text, path, value))).toEqual(set(parse(text), path, value));
      }
    }
  });
});
