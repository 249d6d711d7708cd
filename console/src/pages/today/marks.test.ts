import { describe, expect, it } from 'vitest';
import type { Run } from '../../api/client';
import { marksOf, NO_MARKS, type Deciding } from './marks';
import type { StreamDay } from './scale';

const run = (reference: string, ended?: string) => ({ reference, ended }) as Run;
const day = (stream: string, ...runs: Run[]) => ({ stream, runs }) as StreamDay;
const deciding = (standing: string, stream: string, ...chain: string[]) =>
  ({ title: `${stream} filed`, standing, stream, chain }) as Deciding;

describe('the marks of a date', () => {
  const load = run('fuel/load/fetch@2027-03-04');
  const file = run('fuel/night/file@2027-03-04');
  const all = [
    deciding('in danger', 'fuel/night', load.reference, file.reference),
    deciding('will be kept', 'fuel/calm', load.reference, 'fuel/calm/x@2027-03-04'),
    deciding('stalled', 'fuel/held'),
  ];
  const marks = marksOf(all);

  it.each([
    ['where the end run is', day('fuel', file), ['fuel/night filed']],
    ['not where the chain only comes through', day('fuel/load', load), []],
    ['by the stream where nobody knows a chain', day('fuel/held'), ['fuel/held filed']],
  ])('a promise is shown %s', (_, row, titles) => {
    expect(marks.promisesOf(row).map((one) => one.title)).toEqual(titles);
  });

  it('a promise is shown at its end run', () => {
    expect(marks.promisesAt(file).map((one) => one.title)).toEqual(['fuel/night filed']);
    expect(marks.promisesAt(load)).toEqual([]);
  });

  it('a run says on what it decides, until it has ended', () => {
    expect(marks.decidesOn(load)).toEqual(['fuel/night filed', 'fuel/calm filed']);
    expect(marks.decidesOn({ ...load, ended: '2027-03-04T20:00:00Z' })).toEqual([]);
    expect(marks.decidesOn(run('other/x@2027-03-04'))).toEqual([]);
  });

  it('a stream is marked only for promises that stand badly', () => {
    expect(marks.endangers(day('fuel/load', load, load))).toEqual(['fuel/night filed']);
    expect(marks.endangers(day('fuel/load', run(load.reference, 'over')))).toEqual([]);
    expect(NO_MARKS.endangers(day('fuel/load', load))).toEqual([]);
  });
});
