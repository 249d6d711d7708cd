// @vitest-environment happy-dom
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, test } from 'vitest';
import type { Run, Schemas } from '../../api/client';
import { answering, draw, Refusing } from '../../test/draw';
import { StoredSecrets } from '../access/StoredSecrets';
import { RemotePart } from '../run/RemotePart';
import { ConnectionsPage } from './ConnectionsPage';

const office: Schemas['ConnectionView'] = {
  name: 'harbour-office',
  title: 'The harbour office',
  kind: 'http',
  address: 'https://office.example',
  through: '',
  signIn: 'oauth2',
  user: 'purser',
  secret: 'secret harbour-client for https://office.example:443',
  refused: '',
  atMost: 4,
  bearsOutage: 'PT15M',
  usedBy: ['remote service harbour-office'],
};

const call: Schemas['CallView'] = {
  attempt: 1,
  service: 'harbour-office',
  operation: 'file-manifest',
  phase: 'following',
  id: '4711',
  link: 'https://office.example/4711',
  state: 'working',
  progress: '40 %',
  error: '',
  begun: '2027-03-04T21:30:00Z',
  sentence: 'It is 4711 at harbour-office, there working.',
};

describe('connections', () => {
  const drawn = async (mayAct: boolean, one = office, trial: () => unknown = () => ({})) => {
    const calls = answering({
      'GET /api/v1/connections': () => [one],
      'GET /api/v1/remote-services': () => [],
      'POST /api/v1/connections/harbour-office/trial': trial,
    });
    draw(<ConnectionsPage mayAct={mayAct} />);
    await screen.findByText('harbour-office');
    return calls;
  };

  test('are tried by those who may act, and say what came back', async () => {
    const calls = await drawn(true, office, () => ({
      connection: 'harbour-office',
      good: false,
      steps: ['gets a token', 'it is there, and does not let us in'],
    }));
    fireEvent.click(screen.getByLabelText('Try harbour-office'));
    expect(await screen.findByText('it is there, and does not let us in')).toBeTruthy();
    expect(calls.at(-1)?.body).toEqual({ path: '' });
  });

  test('are not tried by viewers', async () => {
    await drawn(false);
    expect(screen.queryByLabelText('Try harbour-office')).toBeNull();
    expect(screen.getByText('oauth2 as purser')).toBeTruthy();
  });

  test('say what keeps them from their secret', async () => {
    await drawn(false, { ...office, refused: 'no administrator has allowed it' });
    expect(screen.getByText('no administrator has allowed it')).toBeTruthy();
  });

  test('a refusal is said', async () => {
    await drawn(true, office, () => {
      throw new Refusing(403, 'your role does not allow this');
    });
    fireEvent.click(screen.getByLabelText('Try harbour-office'));
    expect(await screen.findByText('your role does not allow this')).toBeTruthy();
  });
});

describe('the part of a run that calls a remote service', () => {
  const run = { id: 7 } as Run;
  const drawn = async (all: Schemas['CallView'][], mayAct = true) => {
    const calls = answering({
      'GET /api/v1/runs/7/remote': () => all,
      'POST /api/v1/runs/7/remote': () => all,
    });
    draw(<RemotePart run={run} mayAct={mayAct} />);
    await screen.findByText('At harbour-office');
    return calls;
  };

  test('shows id, state and how far it is', async () => {
    await drawn([call]);
    expect(screen.getByText('4711')).toBeTruthy();
    expect(screen.getByText('there working')).toBeTruthy();
    expect(screen.getByText('look there').getAttribute('href')).toBe(call.link);
    expect(screen.queryByText('Follow it')).toBeNull();
  });

  test.each(['javascript:alert(1)', 'data:text/html,x', 'office'])(
    'opens no link that is not a page: %s',
    async (link) => {
      await drawn([{ ...call, link }]);
      expect(screen.queryByText('look there')).toBeNull();
    },
  );

  test.each([
    ['Follow it', { says: 'runs-as', id: '4713', reason: '' }],
    ['It did not start: ask again', { says: 'did-not-start', id: '', reason: '' }],
  ])('lets a person say what nobody else knows: %s', async (button, said) => {
    const calls = await drawn([{ ...call, phase: 'person', id: '' }]);
    fireEvent.change(screen.getByLabelText('It runs there as'), { target: { value: ' 4713 ' } });
    fireEvent.click(screen.getByText(button));
    await waitFor(() => expect(calls.find((one) => one.method === 'POST')?.body).toEqual(said));
  });

  test('asks viewers nothing', async () => {
    await drawn([{ ...call, phase: 'person', id: '' }], false);
    expect(screen.queryByText('Follow it')).toBeNull();
  });
});

describe('stored secrets', () => {
  test('are set, and forgotten by the page at once', async () => {
    const calls = answering({
      'GET /api/v1/secrets/stored': () => [],
      'PUT /api/v1/secrets/stored/harbour-client': () => ({}),
    });
    draw(<StoredSecrets />);
    const secret = (await screen.findByLabelText('The secret')) as HTMLInputElement;
    expect(secret.type).toBe('password');
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'harbour-client' } });
    fireEvent.change(secret, { target: { value: 'made-up-secret' } });
    fireEvent.click(screen.getByText('Keep it'));
    await waitFor(() => expect(secret.value).toBe(''));
    expect(calls.find((one) => one.method === 'PUT')?.body).toEqual({
      secret: 'made-up-secret',
      receivers: [],
      reason: '',
    });
  });
});
