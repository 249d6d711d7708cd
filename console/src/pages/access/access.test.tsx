// @vitest-environment happy-dom
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, test } from 'vitest';
import { answering, draw, Refusing, rows } from '../../test/draw';
import { AccessPage } from './AccessPage';

const kari = {
  name: 'kari',
  role: 'operator',
  locked: false,
  mustChange: true,
  tokens: 2,
  since: '2027-03-04T05:00:00Z',
};
const token = {
  id: 7,
  person: 'ola',
  label: 'nightly',
  scope: 'api',
  created: '2027-03-04T05:00:00Z',
  open: true,
};
const permit = {
  id: 3,
  source: 'variable',
  name: 'STORE_KEY',
  address: 'https://store.example:443',
  usedBy: ['store'],
  since: '2027-03-04T05:00:00Z',
  who: 'admin',
  reason: '',
};

describe('access', () => {
  const drawn = async (mayAdminister: boolean, more = {}) => {
    const calls = answering({
      'GET /api/v1/people': () => [kari],
      'GET /api/v1/tokens': () => [token, { ...token, id: 6, scope: 'feed', open: false }],
      'GET /api/v1/secrets': () => [permit],
      'GET /api/v1/secrets/stored': () => [],
      ...more,
    });
    const { container } = draw(<AccessPage mayAdminister={mayAdminister} />);
    await screen.findAllByText('nightly');
    return { calls, container };
  };

  test('shows people and secrets to administrators alone', async () => {
    await drawn(false);
    expect(screen.queryByRole('region', { name: 'People' })).toBeNull();
    expect(screen.queryByText('Secrets of connections')).toBeNull();
    expect(screen.queryByLabelText('Everybody’s')).toBeNull();
  });

  test('says of a token what it opens, and when nothing', async () => {
    const { container } = await drawn(false);
    const cells = rows(container).map((row) => [row[0], row[3], row[5], row[6]]);
    expect(cells).toEqual([
      ['7', 'the API', 'never', 'never'],
      ['6', 'nothing: its time is up', 'never', 'never'],
    ]);
  });

  test('shows a fresh token once', async () => {
    const { calls } = await drawn(false, {
      'POST /api/v1/tokens': () => ({ ...token, token: 'purser_abc' }),
    });
    fireEvent.change(screen.getByLabelText('What it is for'), { target: { value: 'phone' } });
    fireEvent.click(screen.getByText('New token for a calendar'));
    await screen.findByText('purser_abc');
    expect(calls.find((call) => call.method === 'POST')?.body).toEqual({
      label: 'phone',
      scope: 'feed',
      days: 365,
    });
  });

  test('locks somebody out with a reason', async () => {
    const { calls } = await drawn(true, {
      'POST /api/v1/people/kari/actions': () => ({ ...kari, locked: true }),
    });
    expect(screen.getByText('must replace the first password')).toBeTruthy();
    fireEvent.click(screen.getByText('Lock out'));
    await screen.findByText(/Sessions, tokens and live connections end at once/);
    fireEvent.click(screen.getAllByRole('button', { name: 'Lock out' }).at(-1)!);
    await waitFor(() =>
      expect(calls.find((call) => call.method === 'POST')?.body).toMatchObject({ action: 'lock' }),
    );
  });

  test('says a refusal in the service’s words', async () => {
    await drawn(true, {
      'POST /api/v1/secrets': () => {
        throw new Refusing(400, 'PURSER_DATABASE_PASSWORD is the service’s own');
      },
    });
    fireEvent.change(screen.getByLabelText('Its name'), { target: { value: 'X' } });
    fireEvent.change(screen.getByLabelText('For the address'), { target: { value: 'https://a' } });
    fireEvent.click(screen.getByText('Allow'));
    await screen.findByText('PURSER_DATABASE_PASSWORD is the service’s own');
  });
});
