import { describe, expect, it } from 'vitest';
import { begin, isOfTemplate, reduce, templateSays, type Act, type Editing } from './editing';

const OWN = `stream: ships/skua/log
from-template: ship-log   # all ships
with: { ship: skua }
jobs:
  put-away: { host: ledger }
  tell: { run: ./tell.sh, host: depot, waits-for: put-away succeeded }
`;

const FILLED = `stream: ships/skua/log
title: Log of skua
owner: night-desk
jobs:
  fetch-log: { run: ./fetch.sh skua, host: quay-north, title: Fetch the log }
  put-away: { run: ./put-away.sh skua, host: ledger, waits-for: fetch-log succeeded, tags: [a, b] }
  tell: { run: ./tell.sh, host: depot, waits-for: put-away succeeded }
`;
const DEVIATIONS = ['jobs.put-away.host', 'jobs.tell'];
const fill: Act = { do: 'filled', text: FILLED, deviations: DEVIATIONS };

function after(...acts: Act[]): Editing {
  return acts.reduce(reduce, begin(OWN));
}

describe('a stream that comes from a template', () => {
  it('shows what the template says, under what it says itself', () => {
    const bare = after();
    expect(bare.ids).toEqual(['put-away', 'tell']);
    const state = after(fill);
    expect(state.past).toEqual(bare.past); // nothing of the text changes
    expect(state.ids).toEqual(['fetch-log', 'put-away', 'tell']);
    expect(state.arrows.map((one) => `${one.from}>${one.to}`)).toEqual([
      'fetch-log>put-away',
      'put-away>tell',
    ]);
    expect(state.seen.jobs.map((one) => [one.name, one.kind, one.inherited ?? false])).toEqual([
      ['fetch-log', 'run', true],
      ['put-away', 'run', false],
      ['tell', 'run', false],
    ]);
    expect(state.seen.jobs[0]?.title).toBe('Fetch the log');
    bare.spots.forEach((at, id) => expect(state.spots.get(id)).toEqual(at));
  });

  it.each([
    [['jobs', 'fetch-log', 'host'], 'Its template says: quay-north.'],
    [['jobs', 'put-away', 'host'], 'Other than its template; emptied, it is as there again.'],
    [['jobs', 'put-away', 'tags'], 'Its template says: [ a, b ].'],
    [['jobs', 'tell', 'run'], ''],
    [['owner'], 'Its template says: night-desk.'],
    [['department'], ''],
  ])('says of %j where it is from', (path, expected) => {
    expect(templateSays(after(fill), path)).toBe(expected);
  });

  it('what is changed of a job of the template is other here only', () => {
    const state = after(
      fill,
      { do: 'setJob', job: 'fetch-log', key: 'host', value: 'quay-south', at: 1 },
      { do: 'join', from: 'file feed', to: 'put-away' },
    );
    expect(state.says).toBe('');
    expect(state.past.now).toContain('  fetch-log:\n    host: quay-south\n');
    expect(state.past.now).toContain('waits-for: fetch-log succeeded and file feed arrived');
    expect(state.past.now).toContain('# all ships');
    expect(state.ids).toContain('file feed');
  });

  it.each<[Act[], string]>([
    [[{ do: 'choose', ids: ['fetch-log'] }, { do: 'delete' }], 'fetch-log comes from the template'],
    [[{ do: 'choose', ids: ['put-away'] }, { do: 'delete' }], 'put-away comes from the template'],
    [[{ do: 'rename', from: 'fetch-log', to: 'x' }], 'fetch-log comes from the template'],
    [[{ do: 'join', from: 'tell', to: 'fetch-log' }], 'that would be a circle'],
  ])('%j is refused', (acts, why) => {
    const state = after(fill, ...acts);
    expect(state.says).toContain(why);
    expect(state.past.now).toBe(OWN);
  });

  it('what is its own can be taken away, copied and named', () => {
    expect(isOfTemplate(after(fill), 'tell')).toBe(false);
    expect(after(fill, { do: 'choose', ids: ['tell'] }, { do: 'delete' }).past.now).not.toContain(
      'tell.sh',
    );
    const copied = after(fill, { do: 'choose', ids: ['put-away'] }, { do: 'duplicate' });
    expect(copied.chosen).toEqual(['put-away-2']);
    expect(copied.past.now).toContain(
      '  put-away-2:\n    run: ./put-away.sh skua\n    host: ledger',
    );
  });

  it('is as before where no template has a part in it any more, or another stream is meant', () => {
    const gone = after(fill, { do: 'filled', text: '', deviations: [] });
    expect(gone.ids).toEqual(['put-away', 'tell']);
    const other = FILLED.replace('skua/log', 'gull/log');
    expect(after({ do: 'filled', text: other, deviations: [] }).ids).toEqual(['put-away', 'tell']);
  });
});
