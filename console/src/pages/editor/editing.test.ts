import { parse } from 'yaml';
import { describe, expect, it } from 'vitest';
import { begin, begunWith, reduce, type Act, type Editing } from './editing';
import { drawn } from './model';
import { inColumns, nearest, placed, shapesOf, within } from './placing';

const NIGHT = `# The night.
stream: passenger/night
title: Night
jobs:
  close:
    host: quay
    run: ./close.sh # quick
  build:
    host: quay
    waits-for: close succeeded and fleet/rosters/publish succeeded
    run: ./build.sh
  file:
    host: quay
    waits-for: build succeeded or file feed arrived
    run: ./file.sh
`;

function after(text: string, ...acts: Act[]): Editing {
  return acts.reduce(reduce, begin(text));
}

function jobs(state: Editing): Record<string, Record<string, unknown>> {
  return (parse(state.past.now) as { jobs: Record<string, Record<string, unknown>> }).jobs;
}

describe('the picture follows from the text', () => {
  it('has all that is asked for', () => {
    const { ids, arrows } = begin(NIGHT);
    expect(ids).toEqual(['close', 'build', 'file', 'fleet/rosters/publish', 'file feed']);
    expect(arrows.map((one) => `${one.from}>${one.to}${one.alternative ? '?' : ''}`)).toEqual([
      'close>build',
      'fleet/rosters/publish>build',
      'build>file?',
      'file feed>file?',
    ]);
  });

  it('stays while the text is broken, and says where', () => {
    const state = after(NIGHT, { do: 'type', text: `${NIGHT}  x: [`, at: 1 });
    expect(state.stream.jobs).toHaveLength(3);
    expect(state.broken).not.toBe('');
    expect(state.brokenLine).toBeGreaterThan(10);
    expect(reduce(state, { do: 'add', kind: 'run', after: '' }).says).toContain('mend it first');
  });

  it('only what is new is placed', () => {
    const first = begin(NIGHT);
    const next = reduce(first, { do: 'add', kind: 'run', after: 'file' });
    first.spots.forEach((at, id) => expect(next.spots.get(id)).toEqual(at));
    const fresh = next.spots.get('new-job');
    expect(fresh?.x).toBeGreaterThan(first.spots.get('file')?.x ?? 0);
  });
});

describe('drawing', () => {
  it('an arrow is a prerequisite', () => {
    const state = after(NIGHT, { do: 'join', from: 'close', to: 'file' });
    expect(jobs(state)['file']?.['waits-for']).toBe(
      '(build succeeded or file feed arrived) and close succeeded',
    );
    expect(state.past.now).toContain('run: ./close.sh # quick');
    expect(state.arrow).toEqual({ to: 'file', nth: 2 });
    const failed = reduce(state, { do: 'outcome', words: 'failed' });
    expect(jobs(failed)['file']?.['waits-for']).toContain('and close failed');
    const value = reduce(state, { do: 'outcome', words: 'value rows > 1000' });
    expect(jobs(value)['file']?.['waits-for']).toContain('and value rows of close > 1000');
    expect(jobs(reduce(state, { do: 'delete' }))['file']?.['waits-for']).toBe(
      '(build succeeded or file feed arrived)',
    );
  });

  it.each([
    ['file', 'close', 'file waits for build, which waits for close; that would be a circle'],
    ['close', 'close', 'cannot wait for itself'],
    ['close', 'file feed', 'is not a job of this stream'],
    ['close', 'build', 'waits for it already'],
  ])('%s to %s: %s', (from, to, why) => {
    const state = after(NIGHT, { do: 'join', from, to });
    expect(state.says).toContain(why);
    expect(state.past.now).toBe(NIGHT);
  });

  it('of the business date before there is no circle', () => {
    const text = NIGHT.replace(
      'run: ./close.sh # quick',
      'run: x\n    waits-for: file succeeded on the previous business date',
    );
    expect(after(text, { do: 'join', from: 'close', to: 'file' }).says).toBe('');
  });

  it('what is outside is placed, and joined', () => {
    const state = after(
      NIGHT,
      { do: 'place', id: 'file rates' },
      { do: 'join', from: 'file rates', to: 'close' },
    );
    expect(jobs(state)['close']?.['waits-for']).toBe('file rates arrived');
    expect(state.beside).toEqual([]);
  });
});

describe('jobs', () => {
  it('are deleted with what others asked of them, and come back whole', () => {
    const gone = after(NIGHT, { do: 'choose', ids: ['build'] }, { do: 'delete' });
    expect(jobs(gone)).toEqual({
      close: { host: 'quay', run: './close.sh' },
      file: { host: 'quay', 'waits-for': 'file feed arrived', run: './file.sh' },
    });
    expect(gone.says).toContain('file waited for it');
    expect(reduce(gone, { do: 'undo' }).past.now).toBe(NIGHT);
    const feed = after(
      NIGHT,
      { do: 'choose', ids: ['file feed', 'fleet/rosters/publish'] },
      { do: 'delete' },
    );
    expect(jobs(feed)['file']?.['waits-for']).toBe('build succeeded');
    expect(jobs(feed)['build']?.['waits-for']).toBe('close succeeded');
    const all = after(NIGHT, { do: 'all' }, { do: 'delete' });
    expect(parse(all.past.now).jobs).toEqual({});
    expect(jobs(reduce(all, { do: 'add', kind: 'run', after: '' }))).toEqual({
      'new-job': { run: '' },
    });
  });

  it('are copied with what they ask of each other', () => {
    const state = after(
      NIGHT,
      { do: 'choose', ids: ['close', 'build'] },
      { do: 'copy' },
      { do: 'paste', text: '' },
    );
    expect(state.chosen).toEqual(['close-2', 'build-2']);
    expect(jobs(state)['build-2']?.['waits-for']).toBe(
      'close-2 succeeded and fleet/rosters/publish succeeded',
    );
    const twice = after(
      NIGHT,
      { do: 'choose', ids: ['close'] },
      { do: 'duplicate' },
      { do: 'duplicate' },
    );
    expect(Object.keys(jobs(twice))).toEqual(['close', 'build', 'file', 'close-2', 'close-3']);
    expect(after(NIGHT, { do: 'paste', text: 'not: jobs' }).says).toContain('nothing to paste');
    expect(
      Object.keys(jobs(after(NIGHT, { do: 'paste', text: 'jobs:\n  x: { run: y }\n' }))),
    ).toContain('x');
  });

  it('are renamed wherever the stream names them', () => {
    const text = NIGHT.replace('title: Night\n', 'title: Night\nplaces: { build: 10 20 }\n');
    const state = after(text, { do: 'rename', from: 'build', to: 'make' });
    expect(jobs(state)['file']?.['waits-for']).toBe('make succeeded or file feed arrived');
    expect((parse(state.past.now) as { places: unknown }).places).toEqual({ make: '10 20' });
    expect(after(NIGHT, { do: 'rename', from: 'build', to: 'file' }).says).toContain('already');
    expect(after(NIGHT, { do: 'rename', from: 'build', to: 'A b' }).says).toContain(
      'is not a valid name',
    );
  });

  it('keep the places that they are moved to', () => {
    const state = after(
      NIGHT,
      { do: 'choose', ids: ['close', 'file feed'] },
      { do: 'move', by: { x: 10, y: 20 } },
    );
    const was = begin(NIGHT).spots;
    expect(drawn(state.past.now).jobs[0]?.place).toEqual({
      x: (was.get('close')?.x ?? 0) + 10,
      y: (was.get('close')?.y ?? 0) + 20,
    });
    expect(state.spots.get('file feed')?.y).toBe((was.get('file feed')?.y ?? 0) + 20);
    const anew = reduce(state, { do: 'arrange' });
    expect(anew.past.now).not.toContain('places');
    expect(anew.past.now).toBe(NIGHT);
  });
});

describe('undone and done again, all the way', () => {
  it('through any acts', () => {
    const acts: Act[] = [
      { do: 'add', kind: 'run', after: 'close' },
      { do: 'rename', from: 'new-job', to: 'other' },
      { do: 'setJob', job: 'other', key: 'run', value: './other.sh', at: 5_000 },
      { do: 'join', from: 'other', to: 'file' },
      { do: 'choose', ids: ['build'] },
      { do: 'delete' },
      { do: 'set', path: ['title'], value: 'Another: night', at: 10_000 },
      { do: 'arrange' },
    ];
    const texts = [NIGHT];
    let state = begin(NIGHT);
    for (const act of acts) {
      state = reduce(state, act);
      if (state.past.now !== texts[texts.length - 1]) {
        texts.push(state.past.now);
      }
    }
    for (const text of [...texts].reverse().slice(1)) {
      state = reduce(state, { do: 'undo' });
      expect(state.past.now).toBe(text);
    }
    expect(reduce(state, { do: 'undo' }).past.now).toBe(NIGHT);
    for (const text of texts.slice(1)) {
      state = reduce(state, { do: 'redo' });
      expect(state.past.now).toBe(text);
    }
  });

  it('what is typed in a row is one step', () => {
    const state = after(
      'a: 1\n',
      { do: 'type', text: 'a: 12\n', at: 0 },
      { do: 'type', text: 'a: 123\n', at: 100 },
      { do: 'type', text: 'a: 1234\n', at: 5_000 },
    );
    expect(reduce(state, { do: 'undo' }).past.now).toBe('a: 123\n');
    expect(reduce(reduce(state, { do: 'undo' }), { do: 'undo' }).past.now).toBe('a: 1\n');
  });
});

describe('what was not saved', () => {
  it('is there again, and goes with one step back', () => {
    const state = begunWith(NIGHT, NIGHT.replace('Night', 'Day'));
    expect(state.stream.title).toBe('Day');
    expect(state.says).toContain('here again');
    expect(reduce(state, { do: 'undo' }).past.now).toBe(NIGHT);
    expect(begunWith(NIGHT, '').says).toBe('');
    expect(begunWith(NIGHT, NIGHT).past.before).toEqual([]);
  });
});

describe('places', () => {
  it('300 jobs stand apart, also where some wait in a circle', () => {
    let text = 'stream: a/b\njobs:\n';
    for (let i = 0; i < 300; i++) {
      text += `  j${i}: { run: x, waits-for: j${(i * 7) % 300} succeeded and j${Math.floor(i / 2)} succeeded }\n`;
    }
    const { ids, arrows } = shapesOf(drawn(text), []);
    const spots = [...inColumns(ids, arrows).values()];
    expect(spots).toHaveLength(300);
    expect(new Set(spots.map((one) => `${one.x} ${one.y}`)).size).toBe(300);
  });
  it('the keyboard finds the next one, and a frame what it touches', () => {
    const spots = placed(
      ['a', 'b', 'c'],
      [],
      new Map([
        ['a', { x: 0, y: 0 }],
        ['b', { x: 300, y: 10 }],
        ['c', { x: 0, y: 100 }],
      ]),
      new Map(),
    );
    expect(nearest(spots, 'a', 1, 0)).toBe('b');
    expect(nearest(spots, 'a', 0, 1)).toBe('c');
    expect(nearest(spots, 'a', -1, 0)).toBe('a');
    expect(within(spots, { x: 0, y: 50, width: 10, height: 60 })).toEqual(['a', 'c']);
  });
});
