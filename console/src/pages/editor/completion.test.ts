import { describe, expect, it } from 'vitest';
import { completions, keysAbove, kindAt, NO_NAMES, shapeAt } from './completion';

const SCHEMA = {
  oneOf: [
    {
      required: ['stream', 'jobs'],
      properties: {
        stream: { type: 'string' },
        title: { type: 'string', description: 'For people.' },
        schedule: {
          anyOf: [
            { type: 'object', properties: { days: { type: 'string' }, zone: { type: 'string' } } },
            { type: 'array', items: { properties: { days: {}, zone: {} } } },
          ],
        },
        paused: { enum: [true, false, 'yes', 'no'] },
        jobs: {
          type: 'object',
          additionalProperties: {
            properties: {
              run: { type: 'string' },
              'waits-for': {},
              host: {},
              retry: { properties: { times: {}, wait: {} } },
            },
            required: ['host'],
          },
        },
      },
    },
    { required: ['capacity', 'units'], properties: { capacity: {}, units: {} } },
  ],
};
const NAMES = {
  ...NO_NAMES,
  jobs: ['a', 'b'],
  hosts: ['quay-north'],
  groups: ['quays'],
  watches: ['feed'],
};

/** What is offered where the text has a bar. */
function at(text: string, asked = true): string[] | null {
  const bar = text.indexOf('|');
  const found = completions(text.replace('|', ''), bar, SCHEMA, NAMES, asked);
  return found ? found.options.map((one) => one.label) : null;
}

describe('what could stand here', () => {
  it.each([
    ['|', ['stream', 'title', 'schedule', 'paused', 'jobs']],
    ['stream: x\nti|', ['stream', 'title', 'schedule', 'paused', 'jobs']],
    ['stream: x\njobs:\n  one:\n    h|', ['run', 'waits-for', 'host', 'retry']],
    ['stream: x\njobs:\n  one: { h|', ['run', 'waits-for', 'host', 'retry']],
    ['stream: x\njobs:\n  one: { host: q, retry: { t|', ['times', 'wait']],
    ['stream: x\njobs:\n  one: { host: |', ['quay-north', 'any of quays', 'each of quays']],
    [
      'stream: x\njobs:\n  one:\n    waits-for: |',
      ['a succeeded', 'b succeeded', 'file feed arrived'],
    ],
    ['stream: x\nschedule:\n  d|', ['days', 'zone']],
    ['stream: x\npaused: |', ['yes', 'no']],
    ['capacity: x\nu|', ['capacity', 'units']],
    ['stream: x\n# a rem|', null],
    ['stream: x\ntitle: any te|', null],
  ])('%j', (text, wanted) => expect(at(text)).toEqual(wanted));

  it('is not offered unasked where nothing is typed', () => {
    expect(at('stream: x\n|', false)).toBeNull();
  });

  it('goes on in a prerequisite after and', () => {
    const text = 'stream: x\njobs:\n  one:\n    waits-for: a succeeded and b';
    expect(completions(text, text.length, SCHEMA, NAMES, true)?.from).toBe(text.length - 1);
  });
});

describe('where a place of a text is', () => {
  it.each([
    ['a:\n  b:\n    c', ['a', 'b'], false],
    ['a:\n  b:\n    - c: 1\n      d', ['a', 'b'], false],
    ['a: { b: { c', ['a', 'b'], true],
    ['a: { b: { c: 1 }, d', ['a'], true],
    ['x:\n  y: 1\n---\na:\n  b', ['a'], false],
    ['a:\n  "b c":\n    d', ['a', 'b c'], false],
  ])('%j', (text, path, inBraces) => {
    expect(keysAbove(text, text.length)).toEqual({ path, inBraces });
  });

  it('its document says its kind', () => {
    const text = 'stream: x\njobs: {}\n---\ncapacity: y\nun';
    expect(kindAt(text, 3, SCHEMA)).toBe('stream');
    expect(kindAt(text, text.length, SCHEMA)).toBe('capacity');
    expect(shapeAt(SCHEMA, 'stream', ['jobs', 'any', 'retry', 'times'])).toEqual({});
    expect(shapeAt(SCHEMA, 'stream', ['nothing', 'there'])).toBeUndefined();
  });
});
