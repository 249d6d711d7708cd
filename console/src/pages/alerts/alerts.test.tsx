// @vitest-environment happy-dom
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { describe, expect, test } from 'vitest';
import type { Schemas } from '../../api/client';
import { answering, draw, Refusing } from '../../test/draw';
import { AlertsPage } from './AlertsPage';

type Alert = Schemas['AlertView'];

function alert(id: number, more: Partial<Alert> = {}): Alert {
  return {
    id,
    kind: 'failed',
    urgency: 'warning',
    rule: 'built in',
    state: 'open',
    title: 'Night manifest: Build it',
    text: 'exit code 3',
    reference: 'passenger/manifest/build@2027-03-04#1',
    stream: 'passenger/manifest',
    kindTitle: 'Failed',
    page: '/runs/41',
    run: 41,
    opened: '2027-03-04T05:00:00Z',
    acknowledgedBy: '',
    closedBecause: '',
    cause: '',
    partOf: 0,
    parts: 0,
    firstAid: '',
    notices: [],
    deliveries: [],
    record: [],
    zone: 'Europe/Oslo',
    ...more,
  };
}

describe('the page of alerts', () => {
  const drawn = async (alerts: Alert[], mayAct = true) => {
    const state = { alerts };
    const calls = answering({
      'GET /api/v1/alerts': () => state.alerts,
      'GET /api/v1/streams': () => [],
      'GET /api/v1/maintenance': () => [],
      'POST /api/v1/alerts/7/actions': () => {
        state.alerts = state.alerts.map((one) => ({
          ...one,
          state: 'acknowledged',
          acknowledgedBy: 'ola',
        }));
        return state.alerts[0];
      },
    });
    draw(<AlertsPage mayAct={mayAct} />);
    await screen.findByRole('heading', { name: 'Alerts' });
    return calls;
  };

  test.each([
    [[], 'Nobody needs to be told anything.'],
    [[alert(1)], '1 waits for somebody to take it on.'],
    [[alert(1), alert(2)], '2 wait for somebody to take them on.'],
    [[alert(1, { state: 'closed' })], 'Nobody needs to be told anything.'],
  ])('sums up what is open: %#', async (alerts, text) => {
    await drawn(alerts);
    expect(screen.getByText(text)).toBeTruthy();
  });

  test('says whom an alert has reached, and whom not yet', async () => {
    const delivery = {
      address: 'desk@brannoch.example',
      channel: 'mail',
      recipient: 'night-desk',
      lastError: 'refused',
      state: 'waiting',
      what: 'alert',
      answer: '',
      tries: 3,
    };
    await drawn([
      alert(1, { deliveries: [delivery] }),
      alert(2, { deliveries: [{ ...delivery, state: 'delivered' }] }),
      alert(3),
    ]);
    expect(screen.getByText('night-desk by mail: not yet, 3 tries').title).toBe('refused');
    expect(screen.getByText(/^night-desk by mail: told/)).toBeTruthy();
    expect(screen.getByText('nobody is to be told')).toBeTruthy();
  });

  test('says how urgent it is, and by which rule', async () => {
    await drawn([alert(1, { urgency: 'urgent', rule: 'department Passenger services' }), alert(2)]);
    expect(screen.getAllByText('urgent')).toHaveLength(1);
    expect(screen.getByText(/by a rule of department Passenger services/)).toBeTruthy();
    expect(screen.queryByText('warning')).toBeNull();
  });

  test('says what an alert was before its kind changed', async () => {
    const step = { at: '2027-03-04T04:10:00Z', what: 'opened', who: '' };
    await drawn([
      alert(1, {
        kind: 'late',
        kindTitle: 'Late',
        text: 'it should have been filed by 06:00',
        record: [
          { ...step, kind: 'will-be-late', kindTitle: 'Will be late', text: 'likely at 06:20' },
          { ...step, what: 'changed', kind: 'late', kindTitle: 'Late', text: 'it should' },
        ],
      }),
    ]);
    expect(screen.getByText(/^Will be late from .*: likely at 06:20$/)).toBeTruthy();
    expect(screen.queryByText(/^Late from/)).toBeNull();
  });

  test('an alert is taken on, and then nobody else need be', async () => {
    const calls = await drawn([alert(7)]);
    fireEvent.click(screen.getByRole('button', { name: 'I take it on' }));
    await screen.findByText('taken on by ola');
    expect(calls.find((one) => one.method === 'POST')?.body).toEqual({
      action: 'acknowledge',
      reason: '',
    });
    expect(screen.queryByRole('button', { name: 'I take it on' })).toBeNull();
  });

  test('an alert is put off with a reason', async () => {
    const calls = await drawn([alert(7)]);
    fireEvent.click(screen.getByRole('button', { name: 'Put off' }));
    const dialog = within(await screen.findByRole('dialog'));
    expect(dialog.getByRole('button', { name: 'Put off' }).hasAttribute('disabled')).toBe(true);
    fireEvent.change(dialog.getByLabelText('Reason'), { target: { value: ' next shift ' } });
    fireEvent.click(dialog.getByRole('button', { name: 'Put off' }));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    const asked = calls.find((one) => one.method === 'POST')?.body as Record<string, string>;
    expect(asked).toMatchObject({ action: 'put-off', reason: 'next shift' });
    expect(Date.parse(asked.until ?? '')).toBeGreaterThan(0);
  });

  test('what was said of it is shown, and until when it is put off', async () => {
    const step = { at: '2027-03-04T04:10:00Z', kind: 'failed', kindTitle: 'Failed' };
    await drawn([
      alert(1, {
        state: 'put off',
        putOffUntil: '2027-03-04T09:00:00Z',
        record: [
          { ...step, what: 'put off', who: 'ola', text: 'until 10:00: next shift' },
          { ...step, what: 'commented', who: 'ida', text: 'the sender knows' },
        ],
      }),
    ]);
    expect(screen.getByText(/^ola, .*: put off until 10:00: next shift$/)).toBeTruthy();
    expect(screen.getByText(/^ida, .*: the sender knows$/)).toBeTruthy();
    expect(screen.getByText(/^put off until [^:]*:\d\d$/)).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'I take it on' })).toBeNull();
  });

  test('whoever comes second is told who was first, and sees it', async () => {
    const first = alert(7);
    let asked = 0;
    answering({
      'GET /api/v1/alerts': () =>
        asked++ === 0 ? [first] : [{ ...first, state: 'acknowledged', acknowledgedBy: 'ola' }],
      'POST /api/v1/alerts/7/actions': () => {
        throw new Refusing(409, 'the alert is acknowledged by ola already');
      },
    });
    draw(<AlertsPage mayAct />);
    fireEvent.click(await screen.findByRole('button', { name: 'I take it on' }));
    expect((await screen.findByRole('alert')).textContent).toBe(
      'the alert is acknowledged by ola already',
    );
    await screen.findByText('taken on by ola');
    fireEvent.click(screen.getByRole('button', { name: 'Close' }));
    await waitFor(() => expect(screen.queryByRole('alert')).toBeNull());
  });

  test('shows those that are part of one when they are asked for', async () => {
    const calls = answering({
      'GET /api/v1/streams': () => [],
      'GET /api/v1/maintenance': () => [],
      'GET /api/v1/alerts': ({ query }) =>
        query.get('partOf') === '7'
          ? [alert(8, { partOf: 7, title: 'Load the decks' })]
          : [alert(7, { parts: 1, firstAid: 'call the depot' })],
    });
    draw(<AlertsPage mayAct />);
    expect(await screen.findByText('call the depot')).toBeTruthy();
    expect(screen.queryByText('Load the decks')).toBeNull();
    fireEvent.click(screen.getByRole('button', { name: 'Show 1 more that is part of it' }));
    expect(await screen.findByText('Load the decks')).toBeTruthy();
    expect(calls.some((call) => call.query.get('heads') === 'true')).toBe(true);
  });

  test('says who is told later, with another, or not at all', async () => {
    const notice = {
      byWayOf: '',
      why: 'rule',
      urgency: 'warning',
      at: '2027-03-04T05:00:00Z',
      due: '2027-03-04T06:00:00Z',
    };
    await drawn([
      alert(1, {
        notices: [
          { ...notice, name: 'chief', state: 'waits', note: 'quiet time' },
          { ...notice, name: 'chief', state: 'waits', note: 'quiet time' },
          { ...notice, name: 'bridge', state: 'due', note: '' },
          { ...notice, name: 'desk', state: 'folded', note: 'told with alert 7' },
          { ...notice, name: 'person ola', state: 'dropped', note: 'has no mail address' },
          { ...notice, name: 'all', state: 'dropped', note: 'by way of it: desk' },
        ],
      }),
    ]);
    expect(screen.getByText(/^chief: at /).title).toBe('quiet time');
    expect(screen.getByText('bridge: about to be told')).toBeTruthy();
    expect(screen.getByText('desk: told with alert 7')).toBeTruthy();
    expect(screen.getByText('person ola: not told, has no mail address')).toBeTruthy();
    expect(screen.queryByText(/^all:/)).toBeNull();
  });

  test('closed ones are asked for with the switch, and say why they were closed', async () => {
    const calls = await drawn([
      alert(7, {
        state: 'closed',
        closed: '2027-03-04T05:30:00Z',
        closedBecause: 'that is not so any more',
      }),
    ]);
    fireEvent.click(screen.getByRole('switch', { name: 'Closed ones too' }));
    await waitFor(() => expect(calls.at(-1)?.query.get('closed')).toBe('true'));
    expect(screen.getByText(/^closed .*: that is not so any more$/)).toBeTruthy();
  });

  test('who may only look takes nothing on', async () => {
    await drawn([alert(7)], false);
    expect(screen.queryByRole('button', { name: 'I take it on' })).toBeNull();
  });
});

describe('many at once', () => {
  const done = (id: number, refusal = '') => ({
    alert: id,
    title: `Number ${id}`,
    state: 'closed',
    refusal,
  });

  const drawn = async (answers: unknown[]) => {
    const state = { alerts: [alert(7, { title: 'A', parts: 3 }), alert(8, { title: 'B' })] };
    const calls = answering({
      'GET /api/v1/alerts': () => state.alerts,
      'GET /api/v1/streams': () => [],
      'GET /api/v1/maintenance': () => [],
      'POST /api/v1/alerts/actions': () => answers,
    });
    draw(<AlertsPage mayAct={true} />);
    await screen.findByRole('heading', { name: 'Alerts' });
    return calls;
  };
  const asked = (calls: { method: string; body: unknown }[]) =>
    calls.find((call) => call.method === 'POST')?.body;

  test('are taken on with what is part of them', async () => {
    const calls = await drawn([done(7), done(8)]);
    expect(screen.queryByRole('button', { name: 'I take them on' })).toBeNull();
    fireEvent.click(screen.getByLabelText('Choose A'));
    fireEvent.click(screen.getByLabelText('Choose B'));
    expect(screen.getByText('2 chosen')).toBeTruthy();
    expect(screen.getByText('with the 3 that are part of them')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'I take them on' }));
    expect(await screen.findByText('All on this page')).toBeTruthy();
    expect(asked(calls)).toEqual({
      ids: [7, 8],
      withParts: true,
      action: 'acknowledge',
      reason: '',
    });
  });

  test('all of a page are chosen at once, and without their parts', async () => {
    const calls = await drawn([done(7), done(8, 'the alert is closed already')]);
    fireEvent.click(screen.getByLabelText('All on this page'));
    fireEvent.click(screen.getByLabelText('with the 3 that are part of them'));
    fireEvent.click(screen.getByRole('button', { name: 'Close' }));
    expect(await screen.findByText('Number 8: the alert is closed already')).toBeTruthy();
    expect(asked(calls)).toMatchObject({ ids: [7, 8], withParts: false, action: 'close' });
  });
});
