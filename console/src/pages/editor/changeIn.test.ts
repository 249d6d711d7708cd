import { describe, expect, test } from 'vitest';
import { changeIn } from './changeIn';
import { drawn, drawnAgain } from './model';

const NIGHT = `# The night's work.
stream: passenger/night-manifest
title: Night passenger manifest   # for people
about: |
  Prints what the purser signs.

  jobs: this is not a job
schedule:
  days: business days
  at: "21:30"
places: { build: 10 20 }

jobs:
  # First of all.
  close-bookings:
    title: Close bookings
    host: quay-north
    run: ./close-bookings.sh \${date} && echo "done"
  build:
    host: any of quays
    run: |
      ./build.sh
        # not a comment
      ./again.sh
    waits-for: close-bookings succeeded

  pay: { title: Pay out, host: ledger, run: "./pay.sh, at once", waits-for: build succeeded }
  quoted: { run: 'a
      b' }
owner: night-desk
# The end.
`;

const counts = { top: 7, jobs: 4 };

function edited(at: string, to: string): string {
  expect(NIGHT).toContain(at);
  return NIGHT.replace(at, to);
}

describe('a change', () => {
  test.each([
    ['Night passenger manifest', 'Night list', ['title']],
    ['"21:30"', '"22:30"', ['schedule']],
    ['title: Close bookings', 'title: Close', ['jobs', 'close-bookings']],
    ['# not a comment', '# not one', ['jobs', 'build']],
    ['./again.sh\n', './again.sh\n      more\n', ['jobs', 'build']],
    ['ledger', 'quay-south', ['jobs', 'pay']],
    ["a\n      b'", "a\n      c'", ['jobs', 'quoted']],
    ['night-desk', 'day-desk', ['owner']],
    ['# First of all.', '# First.', ['jobs']],
  ])('of %j to %j is read by itself', (at, to, path) => {
    expect(changeIn(NIGHT, edited(at, to), counts)?.path).toEqual(path);
  });

  test.each([
    ['of a name', '  build:\n', '  built:\n'],
    ['that takes a job away', '  pay: {', '  # pay: {'],
    ['that makes a job', '  pay:', '  fee: { run: x }\n  pay:'],
    ['that makes a key of the top', 'owner:', 'priority: 3\nowner:'],
    ['that breaks something', 'host: quay-north', 'host: [quay-north'],
    ['that says a key twice', 'host: quay-north', 'title: x'],
    ['that begins another document', '# The end.', '---'],
    ['with an anchor', 'host: quay-north', 'host: &h quay-north'],
    ['with an alias of nothing', 'host: quay-north', 'host: *.x'],
    ['that moves a job out', '  pay: {', 'pay: {'],
    ['with a tab', 'host: quay-north', 'host:\tquay-north'],
  ])('%s has all of it read, or all jobs', (_, at, to) => {
    expect(changeIn(NIGHT, edited(at, to), counts)?.path ?? ['jobs']).toEqual(['jobs']);
  });
});

/** Numbers that look as if by chance, and are the same each time. */
function chance(seed: number) {
  let state = seed;
  return (below: number) => {
    state = (Math.imul(state, 1_103_515_245) + 12_345) & 0x7fffffff;
    return Math.floor((state / 0x7fffffff) * below) % below;
  };
}

const PIECES = [
  ...['x', ' ', '\n', ':', ': ', '#', ' # ', '"', "'", '{', '}', '[', ']', ',', '|', '- ', '~'],
  ...[
    '\n  ',
    '\n    ',
    '  new: { run: y }\n',
    'stream: z\n',
    '&a ',
    '*a',
    '---\n',
    'jobs:\n',
    '\t',
  ],
];

test('what is read of a change is what reading all of it gives', () => {
  const random = chance(20270304);
  let before = NIGHT;
  let was = drawn(before);
  let short = 0;
  for (let i = 0; i < 1_000; i++) {
    const at = random(before.length + 1);
    const cut = random(3) === 0 ? random(random(8) === 0 ? 60 : 4) : 0;
    const put = random(4) === 0 ? '' : (PIECES[random(PIECES.length)] ?? '');
    const after = before.slice(0, at) + put + before.slice(at + cut);
    const known = {
      top: Object.keys(was.value).length,
      jobs: Object.keys((was.value['jobs'] as object | null) ?? {}).length,
    };
    short += changeIn(before, after, known) ? 1 : 0;
    const again = drawnAgain(after, before, was);
    const whole = drawn(after);
    expect(again, JSON.stringify({ at, cut, put, before })).toEqual(whole);
    expect(JSON.stringify(again.jobs)).toBe(JSON.stringify(whole.jobs)); // in the same order
    if (whole.broken === '' && i % 25 !== 0) {
      before = after;
      was = again;
    } else {
      before = NIGHT;
      was = drawn(NIGHT);
    }
  }
  expect(short).toBeGreaterThan(100); // the short way is taken often enough to be tried
}, 60_000);

test('jobs that did not change are the same objects', () => {
  const was = drawn(NIGHT);
  const again = drawnAgain(edited('ledger', 'quay-south'), NIGHT, was);
  expect(again.jobs.map((job, i) => job === was.jobs[i])).toEqual([true, true, false, true]);
});
