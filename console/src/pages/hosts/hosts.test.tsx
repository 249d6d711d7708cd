// @vitest-environment happy-dom
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { describe, expect, test } from 'vitest';
import type { Schemas } from '../../api/client';
import { answering, draw } from '../../test/draw';
import { HealthPage } from '../health/HealthPage';
import { HostsPage } from './HostsPage';

type Host = Schemas['HostView'];

const well: Schemas['MachineView'] = {
  cores: 4,
  load: 1.5,
  memory: 16e9,
  memoryFree: 8e9,
  disk: 200e9,
  diskFree: 90e9,
};

function host(name: string, more: Partial<Host> = {}): Host {
  return {
    name,
    title: `Host ${name}`,
    connected: true,
    enrolled: true,
    drained: '',
    planned: '',
    atMost: 0,
    running: 0,
    groups: [],
    labels: [],
    machine: well,
    version: '0.1.0',
    clockDifferenceMillis: 0,
    zone: 'UTC',
    ...more,
  };
}

describe('hosts', () => {
  const drawn = async (hosts: Host[], mayAct = true) => {
    const state = { hosts };
    const calls = answering({
      'GET /api/v1/hosts': () => state.hosts,
      'POST /api/v1/hosts/ledger/actions': (call) => {
        const { action } = call.body as { action: string };
        const drained = action === 'drain' ? 'drained by ola: new disk' : '';
        state.hosts = state.hosts.map((one) => ({ ...one, drained }));
        return state.hosts[0];
      },
    });
    draw(<HostsPage mayAct={mayAct} />);
    await screen.findByRole('heading', { name: 'Hosts' });
    return calls;
  };

  test.each([
    [host('ledger'), 'connected'],
    [host('ledger', { connected: false }), 'not connected'],
    [host('ledger', { connected: false, enrolled: false }), 'not enrolled'],
    [host('ledger', { running: 1 }), 'running on it: 1 run'],
    [host('ledger', { running: 3 }), 'running on it: 3 runs'],
    [host('ledger', { running: 3, atMost: 8 }), 'running on it: 3 of 8 at most'],
    [host('ledger', { machine: { ...well, diskFree: 5e9 } }), 'disk 5.0 GB free'],
    [host('ledger', { machine: { ...well, cores: 1 } }), 'load 1.5 on 1 core'],
    [host('ledger', { labels: ['quay', 'north'] }), 'labels quay, north'],
    [host('ledger', { clockDifferenceMillis: 7_200_000 }), /its clock is 2h 00m ahead/],
    [host('ledger', { clockDifferenceMillis: -90_000 }), /its clock is 1m 30s behind/],
    [host('ledger', { drained: 'drained by ola: new disk' }), /drained by ola: new disk/],
  ])('say how they are: %#', async (one, text) => {
    await drawn([one]);
    expect(screen.getByText(text)).toBeTruthy();
  });

  test('a small difference of clocks, and what nobody has measured, is not spoken of', async () => {
    await drawn([
      host('ledger', {
        clockDifferenceMillis: 1_500,
        machine: { ...well, load: -1, memory: 0, disk: 0 },
      }),
    ]);
    expect(screen.queryByText(/its clock/)).toBeNull();
    expect(screen.queryByRole('progressbar')).toBeNull();
  });

  test('are summed up, away and drained ones among them', async () => {
    await drawn([host('a'), host('b', { connected: false }), host('c', { drained: 'by ola' })]);
    expect(screen.getByText('2 of 3 connected · 1 drained')).toBeTruthy();
  });

  test('are drained after saying what that means, and returned', async () => {
    const calls = await drawn([host('ledger', { running: 2 })]);
    fireEvent.click(screen.getByRole('button', { name: 'Drain' }));
    const dialog = await screen.findByRole('dialog');
    within(dialog).getByText(/What runs on it goes on \(2 runs\); nothing new starts there/);
    fireEvent.change(within(dialog).getByRole('textbox'), { target: { value: 'new disk' } });
    fireEvent.click(within(dialog).getByRole('button', { name: 'Drain' }));
    fireEvent.click(await screen.findByRole('button', { name: 'Return to work' }));
    fireEvent.click(within(await screen.findByRole('dialog')).getByText('Return'));
    await waitFor(() => expect(calls.filter((one) => one.method === 'POST')).toHaveLength(2));
    expect(calls.filter((one) => one.method === 'POST').map((one) => one.body)).toEqual([
      { action: 'drain', reason: 'new disk' },
      { action: 'return', reason: '' },
    ]);
  });

  test('are left alone by who may only look', async () => {
    await drawn([host('ledger')], false);
    expect(screen.queryByRole('button')).toBeNull();
  });

  test('where there are none it is said what to do', async () => {
    await drawn([]);
    expect(screen.getByText('There are no hosts yet')).toBeTruthy();
  });
});

describe('health', () => {
  const finding = (level: string, about: string, text: string, remedy = '') => ({
    level,
    about,
    text,
    remedy,
  });
  const drawn = async (findings: Schemas['FindingView'][]) => {
    answering({
      'GET /api/v1/health': () => ({
        version: '0.1.0',
        epoch: 7,
        at: '2027-03-04T05:00:00Z',
        keeping: 'runs 400d',
        findings,
        tables: [{ name: 'run', rows: 1_234_567, bytes: 175_000_000 }],
      }),
    });
    const { container } = draw(<HealthPage />);
    await screen.findByRole('heading', { name: 'Health' });
    return container;
  };

  test('has what does not work on top, with what to do', async () => {
    const container = await drawn([
      finding('good', 'database', 'answers within 1 ms'),
      finding('look', 'disk of ledger', 'is 93 % full', 'make room'),
      finding('bad', 'mail', 'cannot be reached', 'start the mail server'),
    ]);
    const titles = [...container.querySelectorAll('h2')].map((one) => one.textContent);
    expect(titles).toEqual(['Does not work', 'To look at', 'As it should be', 'Records']);
    expect(screen.getByText('What to do: start the mail server')).toBeTruthy();
    expect(screen.getByText(/^1 bad, 1 to look at · Purser 0\.1\.0, epoch 7/)).toBeTruthy();
    expect(screen.getByText('1,234,567')).toBeTruthy();
    expect(screen.getByText('175.0 MB')).toBeTruthy();
  });

  test('says that all is well where it is', async () => {
    await drawn([finding('good', 'database', 'answers within 1 ms')]);
    expect(screen.getByText(/^All is well/)).toBeTruthy();
    expect(screen.queryByText('Does not work')).toBeNull();
  });
});
