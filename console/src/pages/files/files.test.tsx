// @vitest-environment happy-dom
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { beforeEach, describe, expect, test } from 'vitest';
import { answering, draw, rows, type Call } from '../../test/draw';
import { Arrivals, type Arrival, type Decision } from './Arrivals';
import { Checklist, type Watch } from './Checklist';
import { FilesPage } from './FilesPage';

const NOW = Date.parse('2027-03-04T06:00:00Z');

function watch(name: string, standing: string, more: Partial<Watch> = {}): Watch {
  return {
    name,
    title: `Title of ${name}`,
    place: 'quay-north',
    path: '/in/*.csv',
    date: '2027-03-04',
    expected: '',
    standing,
    count: 0,
    setOf: 1,
    states: {},
    troubles: [],
    usedBy: [],
    ...more,
  };
}

function arrival(id: number, name: string, state: string, more: Partial<Arrival> = {}): Arrival {
  return {
    id,
    watch: 'dues-notes',
    place: 'quay-south',
    path: `/in/${name}`,
    date: '2027-03-04',
    name,
    size: 68,
    modified: '2027-03-04T05:00:00Z',
    checksum: '',
    found: '2027-03-04T05:00:01Z',
    state,
    since: '2027-03-04T05:00:05Z',
    run: 0,
    reference: '',
    repeats: 0,
    note: '',
    afterUse: '',
    ...more,
  };
}

describe('the checklist', () => {
  const drawn = (watches: Watch[]) =>
    draw(<Checklist watches={watches} now={NOW} onShow={() => {}} onTry={() => {}} />);

  test('has what is missing on top, each with its word', () => {
    const { container } = drawn([
      watch('a', 'in time', { came: '2027-03-04T05:30:00Z', count: 1 }),
      watch('b', 'missing', { by: '2027-03-04T05:45:00Z' }),
      watch('c', 'overdue'),
    ]);
    expect(rows(container).map((row) => row[1])).toEqual(['missing', 'overdue', 'in time']);
    expect(rows(container)[0]?.[0]).toContain('Title of b');
  });

  test('counts the files of a set, and of a watch of many', () => {
    const { container } = drawn([
      watch('a', 'expected', { setOf: 3, count: 2, states: { ready: 2 } }),
      watch('b', 'came', { count: 5, came: '2027-03-04T05:30:00Z', states: { unprocessed: 1 } }),
    ]);
    expect(rows(container)[0]?.[4]).toBe('2 of 3');
    expect(rows(container)[0]?.[5]).toBe('2 ready');
    expect(rows(container)[1]?.[4]).toMatch(/^5, the first \d\d:\d\d$/);
    expect(rows(container)[1]?.[5]).toBe('1 unprocessed');
  });

  test('says what is wrong with a directory beside its watch', () => {
    drawn([watch('a', 'expected', { troubles: ['quay-north: the directory /in does not exist'] })]);
    expect(screen.getByText('quay-north: the directory /in does not exist')).toBeTruthy();
  });
});

describe('arrivals', () => {
  const two = [
    arrival(7, 'a\nb.csv', 'unprocessed', {
      run: 41,
      reference: 'harbour/dues/read@2027-03-04#1',
      note: 'harbour/dues/read@2027-03-04#1 failed: exit code 3',
    }),
    arrival(6, 'c.csv', 'used', { afterUse: 'moved to /in/done/c.csv' }),
  ];

  test('tell what has become of each, with a link to its run and no name in two lines', () => {
    const { container } = draw(<Arrivals arrivals={two} now={NOW} />);
    expect(rows(container)[0]?.[1]).toContain('a\\x0ab.csv');
    expect(rows(container)[0]?.[3]).toBe('harbour/dues/read@2027-03-04#1failed: exit code 3');
    expect(screen.getByRole('link').getAttribute('href')).toBe('/runs/41');
    expect(rows(container)[1]?.[3]).toBe('moved to /in/done/c.csv');
    expect(screen.queryByRole('checkbox')).toBeNull(); // who may only look decides nothing
  });

  test('are chosen one by one or all at once, and decided on together', () => {
    const decided: [Decision, number[]][] = [];
    draw(
      <Arrivals
        arrivals={two}
        now={NOW}
        onDecide={(decision, all) => decided.push([decision, all.map((one) => one.id)])}
      />,
    );
    const button = (name: string) => screen.getByRole('button', { name }) as HTMLButtonElement;
    expect(button('Try again').disabled).toBe(true);
    fireEvent.click(screen.getByLabelText('choose c.csv'));
    expect(screen.getByText('1 chosen')).toBeTruthy();
    fireEvent.click(button('Put aside'));
    fireEvent.click(screen.getByLabelText('choose all that are listed'));
    fireEvent.click(button('Try again'));
    fireEvent.click(screen.getByLabelText('choose all that are listed'));
    fireEvent.click(screen.getByLabelText('choose all that are listed'));
    expect(button('Mark as done').disabled).toBe(true);
    expect(decided).toEqual([
      ['put-aside', [6]],
      ['retry', [7, 6]],
    ]);
  });
});

describe('picking', () => {
  test('with shift takes all from one row to another, and what is gone is picked no more', () => {
    const five = [5, 4, 3, 2, 1].map((id) => arrival(id, `${id}.csv`, 'unprocessed'));
    const decided: number[][] = [];
    const drawnWith = (some: Arrival[]) => (
      <Arrivals
        arrivals={some}
        now={NOW}
        onDecide={(_, all) => decided.push(all.map((one) => one.id))}
      />
    );
    const { rerender } = draw(drawnWith(five));
    fireEvent.click(screen.getByLabelText('choose 5.csv'));
    fireEvent.click(screen.getByLabelText('choose 2.csv'), { shiftKey: true });
    expect(screen.getByText('4 chosen')).toBeTruthy();
    rerender(drawnWith(five.slice(1)));
    expect(screen.getByText('3 chosen')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Try again' }));
    expect(decided).toEqual([[4, 3, 2]]);
    expect(screen.getByText('Choose files to decide on them')).toBeTruthy();
  });
});

describe('the page of files', () => {
  let calls: Call[];
  let left: Arrival[];

  beforeEach(() => {
    left = [arrival(7, 'a.csv', 'unprocessed'), arrival(6, 'b.csv', 'rejected')];
    calls = answering({
      'GET /api/v1/watches': () => [watch('dues-notes', 'overdue'), watch('feed', 'in time')],
      'GET /api/v1/arrivals': (call) => ({
        arrivals: call.query.get('state') === 'unprocessed,rejected' ? left : [],
        next: 0,
        total: left.length,
      }),
      'POST /api/v1/arrivals/actions': (call) => {
        const { arrivals, reason } = call.body as { arrivals: number[]; reason: string };
        if (reason) {
          left = left.filter((one) => !arrivals.includes(one.id));
        }
        return arrivals.map((id) => ({
          id,
          path: `/in/${id}`,
          state: reason ? 'used' : 'unprocessed',
          done: Boolean(reason),
          refusal: reason ? '' : 'a reason is needed',
          effect: '',
        }));
      },
      'POST /api/v1/watches/dues-notes/try': () => [
        {
          place: 'quay-south',
          problem: '',
          files: [
            {
              directory: '/in',
              name: 'note-4.csv',
              size: 24,
              modified: '2027-03-04T05:00:00Z',
              state: 'seen',
              note: 'its last line is not "END *"',
            },
          ],
          more: 3,
          troubles: [],
          notified: true,
        },
      ],
    });
  });

  test('sums up the day', async () => {
    draw(<FilesPage today="2027-03-04" mayAct />);
    await screen.findByText('2 watches · 1 overdue or missing · 2 files wait for a decision');
    expect(calls.find((one) => one.path === '/api/v1/watches')?.query.get('date')).toBe(
      '2027-03-04',
    );
  });

  test('shows what a watch would find without taking it', async () => {
    draw(<FilesPage today="2027-03-04" mayAct />);
    const row = (await screen.findByText('Title of dues-notes')).closest('tr') as HTMLElement;
    fireEvent.click(within(row).getByRole('button', { name: 'Try' }));
    await screen.findByText('4 files would be found; new ones are told by the system.');
    expect(screen.getByText(/note-4\.csv · 24 B/).textContent).toContain('its last line is not');
    expect(screen.getByText('and 3 more')).toBeTruthy();
  });

  test('keeps the dialog open with what was refused, and the list follows what was done', async () => {
    draw(<FilesPage today="2027-03-04" mayAct />, '/files?view=unprocessed');
    fireEvent.click(await screen.findByLabelText('choose a.csv'));
    fireEvent.click(screen.getByRole('button', { name: 'Mark as done' }));
    const dialog = await screen.findByRole('dialog');
    fireEvent.click(within(dialog).getByRole('button', { name: 'Mark as done' }));
    await within(dialog).findByText(/a reason is needed/);
    fireEvent.change(within(dialog).getByRole('textbox'), { target: { value: 'typed in' } });
    fireEvent.click(within(dialog).getByRole('button', { name: 'Mark as done' }));
    await waitFor(() => expect(screen.queryByLabelText('choose a.csv')).toBeNull());
    expect(calls.filter((one) => one.method === 'POST').map((one) => one.body)).toEqual([
      { arrivals: [7], action: 'done', reason: '' },
      { arrivals: [7], action: 'done', reason: 'typed in' },
    ]);
  });

  test('offers no decision to who may only look', async () => {
    draw(<FilesPage today="2027-03-04" mayAct={false} />, '/files?view=unprocessed');
    await screen.findByText('b.csv');
    expect(screen.queryByRole('button', { name: 'Try again' })).toBeNull();
  });

  test('asks for arrivals as the address says', async () => {
    draw(
      <FilesPage today="2027-03-04" mayAct />,
      '/files?view=arrivals&watch=feed&state=used&text=berth',
    );
    await screen.findByText('No file fits');
    const asked = calls.filter((one) => one.path === '/api/v1/arrivals').at(-1)?.query;
    expect(asked?.get('watch')).toBe('feed');
    expect(asked?.get('state')).toBe('used');
    expect(asked?.get('text')).toBe('berth');
  });

  test('says what the service says where it cannot answer', async () => {
    answering({});
    draw(<FilesPage today="2027-03-04" mayAct />);
    await screen.findByText(/nothing is at \/api\/v1\/watches/);
  });
});
