// @vitest-environment happy-dom
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { describe, expect, test } from 'vitest';
import type { Schemas } from '../../api/client';
import { answering, draw, Refusing, rows } from '../../test/draw';
import { Addresses } from './Addresses';
import { Duties } from './Duties';
import { LimitsTable } from './LimitsTable';
import { Maintenance, MutedNow } from './Maintenance';
import { Subscriptions } from './Subscriptions';

type Address = Schemas['AddressView'];
type Planned = Schemas['MaintenanceView'];

function address(more: Partial<Address> = {}): Address {
  return {
    channel: 'mail',
    address: 'desk@brannoch.example',
    recipients: ['night-desk'],
    state: 'well',
    pending: 0,
    refused: 0,
    lastError: '',
    answer: '250 taken',
    ...more,
  };
}

describe('addresses', () => {
  const drawn = async (all: Address[], mayAct = true, tried?: () => unknown) => {
    const calls = answering({
      'GET /api/v1/alert-addresses': () => all,
      'POST /api/v1/alert-trials': () => tried?.() ?? [],
    });
    const view = draw(<Addresses mayAct={mayAct} />);
    await screen.findByRole('heading', { name: 'Addresses' });
    return { calls, view };
  };

  test.each([
    [[], 'Nothing has gone anywhere in the last seven days.'],
    [[address()], 'Of the last seven days; all are reached.'],
    [[address({ state: 'new' })], 'Of the last seven days; all are reached.'],
    [
      [address({ state: 'failing' }), address({ address: 'ola@brannoch.example' })],
      'Of the last seven days; 1 of 2 not reached.',
    ],
    [[address({ state: 'refusing' })], 'Of the last seven days; 1 of 1 not reached.'],
  ])('says how many are reached: %#', async (all, text) => {
    await drawn(all);
    expect(screen.getByText(text)).toBeTruthy();
  });

  test('says why one is not reached and what waits for it', async () => {
    const one = address({
      state: 'failing',
      pending: 3,
      nextTry: '2027-03-04T05:10:00Z',
      lastError: 'refused the connection',
    });
    const { view } = await drawn([one]);
    const cells = rows(view.container)[0] ?? [];
    expect(cells.slice(0, 4)).toEqual([
      'mail',
      'desk@brannoch.example',
      'night-desk',
      'not reached: tried again',
    ]);
    expect(cells[4]).toMatch(/^3, next /);
    expect(cells[5]).toBe('never');
    expect(cells[6]).toBe('refused the connection');
  });

  const attempt = async (name: string) => {
    fireEvent.change(screen.getByLabelText('Recipient, duty or person NAME'), {
      target: { value: name },
    });
    fireEvent.click(screen.getByRole('button', { name: 'Send a test' }));
    return screen.findByRole('alert');
  };

  test.each([
    [
      {
        recipient: 'night-desk',
        channel: 'mail',
        address: 'a@b.example',
        arrived: true,
        answer: '250',
      },
      'night-desk by mail a@b.example: 250',
    ],
    [
      { recipient: 'night-desk', channel: '', address: '', arrived: false, answer: 'has no way' },
      'night-desk: has no way',
    ],
  ])('tells what came back of a test: %#', async (tried, text) => {
    const { calls } = await drawn([], true, () => [tried]);
    expect((await attempt(' night-desk ')).textContent).toBe(text);
    expect(calls.find((call) => call.method === 'POST')?.body).toEqual({ to: 'night-desk' });
  });

  test('tells why a test could not be made', async () => {
    await drawn([], true, () => {
      throw new Refusing(404, 'There is no recipient "desk".');
    });
    expect((await attempt('desk')).textContent).toBe('There is no recipient "desk".');
  });

  test('who may only look sends no tests', async () => {
    await drawn([address()], false);
    expect(screen.queryByRole('button', { name: 'Send a test' })).toBeNull();
  });
});

describe('duties', () => {
  const duty: Schemas['DutyView'] = {
    name: 'on-call',
    title: 'On call',
    zone: 'Europe/Oslo',
    now: ['ola'],
    until: '2027-03-04T05:00:00Z',
    next: ['ida', 'per'],
  };

  const drawn = async (more: Partial<Schemas['DutyView']> = {}) => {
    const calls = answering({
      'GET /api/v1/duties': () => [{ ...duty, ...more }],
      'GET /api/v1/duties/on-call': () => [
        {
          from: '2027-03-03T05:00:00Z',
          to: '2027-03-04T05:00:00Z',
          who: ['ola'],
          zone: 'Europe/Oslo',
        },
        {
          from: '2027-03-04T05:00:00Z',
          to: '2027-03-05T05:00:00Z',
          who: ['ida'],
          zone: 'Europe/Oslo',
        },
      ],
    });
    draw(<Duties />);
    await screen.findByText('On call');
    return calls;
  };

  test('says who has it, until when, and who is next', async () => {
    await drawn();
    expect(screen.getByText(/^Now ola, until .*; then ida, per$/)).toBeTruthy();
    expect(await screen.findByText('ida')).toBeTruthy();
    expect(screen.getByText('on-call, by the clock of Europe/Oslo')).toBeTruthy();
  });

  test('says that nobody has it', async () => {
    await drawn({ now: [], until: undefined });
    expect(screen.getByText('Now nobody')).toBeTruthy();
  });

  test('shows two weeks, or five', async () => {
    const calls = await drawn();
    fireEvent.click(screen.getByRole('button', { name: 'Five weeks' }));
    await screen.findByRole('button', { name: 'Two weeks' });
    await waitFor(() => expect(calls.map((call) => call.query.get('days'))).toContain('35'));
    expect(calls.map((call) => call.query.get('days'))).toContain('14');
  });

  test('says how to make one where there is none', async () => {
    answering({ 'GET /api/v1/duties': () => [] });
    draw(<Duties />);
    expect(await screen.findByText('There is no duty')).toBeTruthy();
  });
});

describe('maintenance', () => {
  function planned(id: number, more: Partial<Planned> = {}): Planned {
    return {
      id,
      what: 'mute',
      scope: 'stream',
      name: 'freight/night',
      from: '2027-03-04T05:00:00Z',
      until: '2027-03-04T07:00:00Z',
      state: 'on',
      who: 'ola',
      reason: 'new crane',
      note: '',
      zone: 'Europe/Oslo',
      ...more,
    };
  }

  const drawn = async (all: Planned[], mayAct = true) => {
    const state = { all };
    const calls = answering({
      'GET /api/v1/maintenance': () => state.all,
      'GET /api/v1/streams': () => [
        { stream: 'freight/night', department: 'Freight' },
        { stream: 'freight/day', department: 'Freight' },
      ],
      'GET /api/v1/hosts': () => [
        { name: 'ledger', groups: ['quay'] },
        { name: 'pier', groups: ['quay', 'yard'] },
      ],
      'POST /api/v1/maintenance': (call) => {
        const asked = call.body as Schemas['MaintenanceRequest'];
        if (asked.name === 'nowhere') {
          throw new Refusing(400, 'There is no stream "nowhere".');
        }
        state.all = [...state.all, planned(9, asked as Partial<Planned>)];
        return state.all.at(-1);
      },
      'DELETE /api/v1/maintenance/1': () => {
        state.all = state.all.map((one) => ({ ...one, state: 'over' }));
        return state.all[0];
      },
    });
    const view = draw(<Maintenance mayAct={mayAct} />);
    await screen.findByRole('heading', { name: 'Maintenance' });
    return { calls, view };
  };

  const pick = async (label: string, choice: string) => {
    fireEvent.mouseDown(screen.getByRole('combobox', { name: label }));
    const list = await screen.findByRole('listbox');
    fireEvent.click(within(list).getByRole('option', { name: choice }));
  };
  const type = (label: string, value: string) =>
    fireEvent.change(screen.getByLabelText(label), { target: { value } });
  const plan = () => screen.getByRole('button', { name: 'Plan' });

  test('lists what is planned, and ends it', async () => {
    const { calls, view } = await drawn([planned(1)]);
    const cells = rows(view.container)[0] ?? [];
    expect([cells[0], cells[1], cells[4], cells[5], cells[6]]).toEqual([
      'muted',
      'stream freight/night',
      'on',
      'ola',
      'new crane',
    ]);
    fireEvent.click(screen.getByRole('button', { name: 'End' }));
    await waitFor(() => expect(screen.queryByRole('button', { name: 'End' })).toBeNull());
    expect(calls.some((call) => call.method === 'DELETE')).toBe(true);
  });

  test.each([
    ['mute', 'stream', ['freight/day', 'freight/night']],
    ['mute', 'department', ['Freight']],
    ['mute', 'host', ['ledger', 'pier']],
    ['drain', 'host', ['ledger', 'pier']],
    ['drain', 'group', ['quay', 'yard']],
  ])('to %s a %s, offers the names that there are', async (what, scope, names) => {
    await drawn([]);
    await pick('What', what);
    await pick('Scope', scope);
    const field = screen.getByLabelText('Name');
    fireEvent.mouseDown(field);
    const options = await screen.findAllByRole('option');
    expect(options.map((one) => one.textContent)).toEqual(names);
  });

  test('plans only with a name and a reason', async () => {
    const { calls } = await drawn([]);
    expect(plan().hasAttribute('disabled')).toBe(true);
    type('Name', 'freight/night');
    expect(plan().hasAttribute('disabled')).toBe(true);
    type('Reason', 'new crane');
    await pick('For', 'two hours');
    fireEvent.click(plan());
    await screen.findByText('stream freight/night');
    const asked = calls.find((call) => call.method === 'POST')?.body as Record<string, string>;
    expect(asked).toMatchObject({ what: 'mute', scope: 'stream', name: 'freight/night' });
    expect(asked['from']).toBeUndefined();
    const left = Date.parse(asked['until'] ?? '') - Date.now();
    expect(left).toBeGreaterThan(119 * 60_000);
    expect(left).toBeLessThanOrEqual(120 * 60_000);
  });

  test('the whole site needs no name', async () => {
    const { calls } = await drawn([]);
    await pick('Scope', 'site');
    type('Reason', 'power off');
    fireEvent.click(plan());
    await screen.findByText('the whole site');
    expect(calls.find((call) => call.method === 'POST')?.body).toMatchObject({
      scope: 'site',
      name: '',
    });
  });

  test('what is refused stays written', async () => {
    await drawn([]);
    type('Name', 'nowhere');
    type('Reason', 'new crane');
    fireEvent.click(plan());
    expect((await screen.findByRole('alert')).textContent).toBe('There is no stream "nowhere".');
    expect((screen.getByLabelText('Reason') as HTMLInputElement).value).toBe('new crane');
  });

  test('who may only look plans and ends nothing', async () => {
    await drawn([planned(1)], false);
    expect(screen.queryByRole('button')).toBeNull();
  });

  test('only what is muted now is warned of', async () => {
    answering({
      'GET /api/v1/maintenance': () => [
        planned(1),
        planned(2, { scope: 'site', name: '', reason: 'power off' }),
        planned(3, { what: 'drain', scope: 'host', name: 'ledger' }),
        planned(4, { state: 'planned', name: 'freight/day' }),
      ],
    });
    draw(<MutedNow />);
    const said = (await screen.findAllByRole('alert')).map((one) => one.textContent);
    expect(said).toHaveLength(2);
    expect(said[0]).toMatch(
      /^Nobody is told of stream freight\/night until .*: new crane \(ola\)$/,
    );
    expect(said[1]).toMatch(/^Nobody is told of the whole site until .*: power off \(ola\)$/);
  });
});

describe('limits', () => {
  test('say what has been used and what waits', async () => {
    answering({
      'GET /api/v1/alert-limits': () => [
        { of: 'the site', within: 'an hour', urgent: false, most: 200, used: 50, waiting: 0 },
        { of: 'way mail', within: 'an hour', urgent: true, most: 5, used: 7, waiting: 3 },
      ],
    });
    const view = draw(<LimitsTable />);
    expect(await screen.findByText(/comes as one digest/)).toBeTruthy();
    expect(rows(view.container)).toEqual([
      ['the site', 'an hour', '50 of 200', '', ''],
      ['way mail', 'an hour, urgent ones', '7 of 5', '', '3'],
    ]);
    const bars = screen.getAllByRole('progressbar').map((one) => one.getAttribute('aria-valuenow'));
    expect(bars).toEqual(['25', '100']);
  });

  test('say how to have some', async () => {
    answering({ 'GET /api/v1/alert-limits': () => [] });
    draw(<LimitsTable />);
    expect(await screen.findByText(/Nothing is limited/)).toBeTruthy();
  });
});

describe('subscriptions', () => {
  const place = {
    topic: 'runs',
    number: 7,
    behind: 2,
    tries: 0,
    lastError: '',
    delivered: '2027-03-04T05:00:00Z',
  };
  const one = {
    id: 3,
    owner: 'ola',
    topics: ['runs', 'files'],
    department: '',
    stream: 'freight/night',
    kind: 'failed',
    address: 'https://tickets.example/in',
    made: '2027-03-04T04:00:00Z',
    state: 'on',
    note: '',
    places: [place],
    zone: 'Europe/Oslo',
  };

  const drawn = async (all: unknown[], mayAct = true) => {
    const state = { all };
    const calls = answering({
      'GET /api/v1/subscriptions': () => state.all,
      'POST /api/v1/subscriptions': (call) => {
        const { address } = call.body as { address: string };
        if (address.startsWith('ftp')) {
          throw new Refusing(400, 'expected an http:// or https:// address');
        }
        state.all = [...state.all, { ...one, id: 4, address }];
        return state.all.at(-1);
      },
      'DELETE /api/v1/subscriptions/3': () => {
        state.all = [{ ...one, state: 'over', note: 'ended by ola' }];
        return state.all[0];
      },
    });
    const view = draw(<Subscriptions mayAct={mayAct} />);
    await screen.findByRole('heading', { name: 'Subscriptions' });
    return { calls, view };
  };

  test('are listed, and ended', async () => {
    const { view } = await drawn([one]);
    const cells = rows(view.container)[0] ?? [];
    expect(cells.slice(0, 5)).toEqual([
      'runs, files',
      'freight/night, failed',
      'https://tickets.example/in',
      'ola',
      'well',
    ]);
    fireEvent.click(screen.getByRole('button', { name: 'End' }));
    expect(await screen.findByText('over: ended by ola')).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'End' })).toBeNull();
  });

  test('say what keeps one back', async () => {
    const stuck = { ...place, tries: 4, lastError: 'answered 503', nextTry: one.made };
    await drawn([{ ...one, stream: '', kind: '', places: [stuck, { ...place, topic: 'files' }] }]);
    expect(screen.getByText(/^runs: answered 503; next try /)).toBeTruthy();
    expect(screen.getByText('all')).toBeTruthy();
  });

  test('are made of topics and an address', async () => {
    const { calls } = await drawn([]);
    const make = screen.getByRole('button', { name: 'Subscribe' });
    fireEvent.click(screen.getByLabelText('runs'));
    fireEvent.click(screen.getByLabelText('files'));
    fireEvent.click(screen.getByLabelText('runs'));
    expect(make.hasAttribute('disabled')).toBe(true);
    const type = (value: string) =>
      fireEvent.change(screen.getByLabelText('Address'), { target: { value } });
    type('ftp://x.example');
    fireEvent.click(make);
    expect((await screen.findByRole('alert')).textContent).toContain('expected an http://');
    type(' https://x.example/in ');
    fireEvent.click(make);
    expect(await screen.findByText('https://x.example/in')).toBeTruthy();
    expect(calls.filter((call) => call.method === 'POST').at(-1)?.body).toEqual({
      topics: ['files'],
      address: 'https://x.example/in',
      stream: '',
      kind: '',
    });
  });

  test('who may only look makes and ends none', async () => {
    await drawn([one], false);
    expect(screen.queryByRole('button')).toBeNull();
  });
});
