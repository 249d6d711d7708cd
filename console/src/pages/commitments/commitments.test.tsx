// @vitest-environment happy-dom
import { screen } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import { describe, expect, test } from 'vitest';
import { answering, draw, rows } from '../../test/draw';
import { CommitmentPage } from './CommitmentPage';
import { CommitmentsPage } from './CommitmentsPage';
import type { Commitment } from './standing';

function promise(more: Partial<Commitment> = {}): Commitment {
  return {
    reference: 'filed@2027-03-04',
    name: 'filed',
    title: 'The manifest is filed',
    about: 'No ferry leaves without it.',
    department: 'Passenger services',
    endJob: 'night/file',
    promise: 'done by 22:00 (UTC)',
    date: '2027-03-04',
    number: 1,
    by: '2027-03-04T22:00:00Z',
    standing: 'in danger',
    sentence: 'a chance of 60 % of being late: probably at 22:10; 22:00 was promised',
    begin: '2027-03-04T21:00:00Z',
    usual: '2027-03-04T21:40:00Z',
    end: '2027-03-04T22:10:00Z',
    earliestEnd: '2027-03-04T21:50:00Z',
    latestEnd: '2027-03-04T22:30:00Z',
    chanceLate: 0.6,
    chanceFailed: 0,
    hangsOn: '',
    ifAnswered: false,
    important: true,
    restsOn: '60 ends of 2 jobs in 1 stream',
    samples: 200,
    zone: 'UTC',
    ...more,
  } as Commitment;
}

describe('commitments', () => {
  test('stand in a word and a sentence, by department, each once', async () => {
    answering({
      'GET /api/v1/foretold': () => [
        {
          horizon: 'begin',
          count: 40,
          within90: 0.9,
          within50: 0.475,
          minutesOff: 0.5,
          late: 4,
          warned: 3,
          cameToNothing: 2,
        },
        { horizon: '4h', count: 0, late: 0, warned: 0, cameToNothing: 0 },
        { horizon: 'alerts', count: 40, late: 4, warned: 3, cameToNothing: 1, minutesBefore: 71.6 },
      ],
      'GET /api/v1/commitments': () => [
        promise({ standing: 'kept', sentence: 'kept at 20:00', number: 1 }),
        promise({ number: 2 }),
        promise({
          sentence: 'kept at 21:00',
          name: 'dues',
          title: 'The dues are in',
          department: 'Accounts',
          standing: 'kept',
        }),
      ],
    });
    const { container } = draw(<CommitmentsPage today="2027-03-04" />);
    await screen.findByText('when it began');
    expect(rows(container)).toEqual([
      ['when it began', '40', '90 %', '48 %', '30 s', '4', '3', '2', ''],
      ['told by alerts', '40', '', '', '', '4', '3', '1', '71.6 min'],
    ]);
    expect(await screen.findByText(/^A chance of 60 % of being late/)).toBeTruthy();
    expect(screen.getAllByRole('heading', { level: 2 }).map((one) => one.textContent)).toEqual([
      'Accounts',
      'Passenger services',
      'How true the forecasts were',
    ]);
    expect(screen.getByText('2 times on this date: kept 1, 1 to come')).toBeTruthy();
    expect(screen.getByRole('link', { name: 'The manifest is filed' }).getAttribute('href')).toBe(
      '/commitments/filed/2027-03-04~2',
    );
  });

  test('that are not there are said not to be', async () => {
    answering({ 'GET /api/v1/commitments': () => [], 'GET /api/v1/foretold': () => [] });
    draw(<CommitmentsPage today="2027-03-04" />);
    expect(await screen.findByText('Nothing is promised of this date')).toBeTruthy();
    expect(await screen.findByText('Nothing has been foretold and ended yet.')).toBeTruthy();
  });

  test('have a page with what they rest on, why, what would help, and the record', async () => {
    const run = {
      run: 7,
      reference: 'night/file@2027-03-04#1',
      title: 'File it',
      streamTitle: 'Night',
      state: 'waiting',
      start: '2027-03-04T22:00:00Z',
      end: '2027-03-04T22:10:00Z',
      over: false,
      decides: true,
      slackMinutes: 0,
      waitsFor: ['night/build@2027-03-04#1'],
    };
    const calls = answering({
      'GET /api/v1/commitments/filed': () => ({
        commitment: promise({ number: 2 }),
        lineage: [
          {
            ...run,
            run: 6,
            reference: 'night/build@2027-03-04#1',
            title: 'Build it',
            end: '2027-03-04T22:00:00Z',
            start: '2027-03-04T21:00:00Z',
            decides: false,
            slackMinutes: 12,
            waitsFor: [],
          },
          run,
        ],
        why: [{ run: run.reference, cause: 'File it ran longer than usual', minutes: 30 }],
        helps: [
          {
            action: 'rerun',
            run: 6,
            text: 'rerun "Build it" now',
            page: '/runs/6',
            command: "purser rerun 'night/build@2027-03-04'",
            end: '2027-03-04T21:48:00Z',
            chanceLate: 0.12,
            gainMinutes: 22,
            cost: '',
          },
        ],
        earlier: [
          {
            date: '2027-03-03',
            number: 1,
            by: '2027-03-03T22:00:00Z',
            done: '2027-03-03T21:31:00Z',
            kept: true,
            minutesOfDay: 1291,
          },
          {
            date: '2027-03-02',
            number: 1,
            by: '2027-03-02T22:00:00Z',
            kept: false,
            minutesOfDay: 0,
          },
        ],
        cutOff: ['shared/tables'],
      }),
    });
    const { container } = draw(
      <Routes>
        <Route path="/commitments/:name/:date?" element={<CommitmentPage />} />
      </Routes>,
      '/commitments/filed/2027-03-04~2',
    );
    expect(
      await screen.findByText(/^Rerun "Build it" now: done at .*, 12 % likely to be late$/),
    ).toBeTruthy();
    expect(calls[0]?.query.get('number')).toBe('2');
    expect(screen.getByText('Kept 1 of the last 2 times.')).toBeTruthy();
    expect(screen.getByText(/Left out: shared\/tables/)).toBeTruthy();
    const cells = rows(container).map((row) => row[row.length - 1]);
    expect(cells).toEqual(['File it ran longer than usual', '12 min', 'decides']);
  });
});
