// @vitest-environment happy-dom
import { screen, waitFor } from '@testing-library/react';
import { beforeEach, describe, expect, test } from 'vitest';
import { answering, draw } from '../test/draw';
import { Bell } from './Bell';

const open = (id: number, urgency = 'warning') => ({ id, urgency, state: 'open' });

describe('the bell', () => {
  beforeEach(() => localStorage.clear());

  const drawn = async (alerts: unknown[], address = '/today') => {
    const calls = answering({ 'GET /api/v1/alerts': () => alerts });
    const view = draw(<Bell />, address);
    await waitFor(() => expect(calls).toHaveLength(1));
    expect(calls[0]?.query.get('heads')).toBe('true');
    return view;
  };
  const badge = (view: { container: HTMLElement }) =>
    view.container.querySelector('.MuiBadge-badge');

  test('counts what waits and what of it is new', async () => {
    localStorage.setItem('purser-alerts-seen', '4');
    const view = await drawn([open(7), open(5), open(3), { ...open(8), state: 'acknowledged' }]);
    expect(
      await screen.findByRole('button', { name: '3 alerts wait, 2 of them new' }),
    ).toBeTruthy();
    expect(badge(view)?.textContent).toBe('2');
    expect(badge(view)?.className).toContain('Warning');
  });

  test('is red where one is urgent', async () => {
    const view = await drawn([open(7, 'urgent'), open(5)]);
    await screen.findByRole('button', { name: '2 alerts wait, 2 of them new' });
    expect(badge(view)?.className).toContain('Error');
  });

  test('what was looked at is not new any more', async () => {
    const view = await drawn([open(7), open(5)], '/alerts');
    await waitFor(() => expect(localStorage.getItem('purser-alerts-seen')).toBe('7'));
    view.unmount();
    await drawn([open(7), open(5)]);
    expect(
      await screen.findByRole('button', { name: '2 alerts wait, 0 of them new' }),
    ).toBeTruthy();
  });
});
