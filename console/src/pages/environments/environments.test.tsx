// @vitest-environment happy-dom
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, test } from 'vitest';
import type { Schemas } from '../../api/client';
import { answering, draw, Refusing } from '../../test/draw';
import { EnvironmentsPage } from './EnvironmentsPage';
import type { Difference } from './standing';

const AT = '2027-03-04T10:00:00Z';

const boards: Difference = {
  kind: 'stream',
  name: 'quay/tide-boards',
  department: 'Fleet',
  standing: 'newer there',
  revisionHere: 4,
  atHere: AT,
  whoHere: 'ada',
  revisionThere: 9,
  atThere: AT,
  whoThere: 'berit',
  fields: [{ field: 'schedule.at', before: '05:15', after: '05:30' }],
  fieldsInAll: 2,
  onItsWay: ['draft 3 there, berit'],
};
const lamps: Difference = {
  ...boards,
  name: 'quay/lamps',
  standing: 'only here',
  revisionThere: 0,
  fields: [],
  fieldsInAll: 0,
  onItsWay: [],
};
const side = (environment: string, revision: number): Schemas['EnvironmentView'] => ({
  environment,
  revision,
  console: '',
  onItsWay: [],
});
const compared: Schemas['ComparisonView'] = {
  name: 'test',
  here: side('live', 12),
  there: {
    ...side('test', 31),
    console: 'https://test.example',
    onItsWay: [{ what: 'draft 3', title: 'Two quays', who: 'berit', definitions: [] }],
  },
  looked: AT,
  alike: 40,
  differences: { 'only here': 1, 'newer there': 1 },
};
const sound = {
  sound: true,
  problems: [],
  definitions: [],
  streams: [],
  touched: [],
  open: [],
  promises: [],
};

describe('environments', () => {
  const drawn = (mayPublish: boolean, more: Record<string, (body: unknown) => unknown> = {}) => {
    const calls = answering({
      'GET /api/v1/neighbours': () => [
        { name: 'test', connection: 'test-site', map: 'hosts: { a: b }' },
      ],
      'GET /api/v1/neighbours/test': () => compared,
      'GET /api/v1/neighbours/test/differences': () => [lamps, boards],
      'GET /api/v1/connections': () => [],
      ...more,
    });
    draw(<EnvironmentsPage mayPublish={mayPublish} mayAdminister={false} />);
    return calls;
  };

  test('say what differs, what is newer and what is on its way', async () => {
    drawn(false);
    expect(await screen.findByText('quay/tide-boards')).toBeTruthy();
    expect(screen.getByText('live, revision 12, and test, revision 31')).toBeTruthy();
    expect(screen.getByRole('status').textContent).toContain('1 newer there, 1 only here: 40');
    expect(screen.getByText(/“Two quays”/).textContent).toContain('On its way there: draft 3');
    expect(screen.getByText('On its way: draft 3 there, berit')).toBeTruthy();
    expect(screen.queryByLabelText('Choose stream quay/tide-boards')).toBeNull();
    fireEvent.click(screen.getByText(/2 fields/));
    expect(screen.getByText('05:30')).toBeTruthy();
    expect(screen.getByText('and 1 more')).toBeTruthy();
  });

  test('bring what is chosen, as it was looked at', async () => {
    const calls = drawn(true, {
      'POST /api/v1/neighbours/test/parcel': () => ({ about: {}, parcel: 'cGFyY2Vs' }),
      'POST /api/v1/parcels/preview': () => ({
        about: { ...side('test', 31), from: 'test', definitions: ['x'], packed: AT, packedBy: 'l' },
        missing: ['host quay-9'],
        preview: sound,
      }),
    });
    fireEvent.click(await screen.findByLabelText('Choose stream quay/tide-boards'));
    expect(screen.queryByLabelText('Choose stream quay/lamps')).toBeNull();
    fireEvent.click(screen.getByText(/What would bringing it/));
    expect(await screen.findByText(/Missing here.*host quay-9/)).toBeTruthy();
    const asked = calls.find((call) => call.path.endsWith('/test/parcel'));
    expect(asked?.body).toEqual({ definitions: ['stream quay/tide-boards'], withNeeds: false });
    const looked = calls.find((call) => call.path.endsWith('/parcels/preview'));
    expect(looked?.body).toMatchObject({ parcel: 'cGFyY2Vs', map: 'hosts: { a: b }' });
  });

  test('one that does not answer says so, and can be asked again', async () => {
    let asked = 0;
    drawn(true, {
      'GET /api/v1/neighbours/test': () => {
        asked++;
        throw new Refusing(409, 'test does not answer: nobody listens there');
      },
    });
    expect((await screen.findByRole('alert')).textContent).toContain('nobody listens');
    fireEvent.click(screen.getByText('Ask again'));
    await waitFor(() => expect(asked).toBe(2));
  });
});
