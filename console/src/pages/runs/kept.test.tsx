// @vitest-environment happy-dom
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, test } from 'vitest';
import { answering, draw, Refusing } from '../../test/draw';
import { KeptFilters } from './KeptFilters';

describe('kept filters', () => {
  test('a name that is refused stays to be mended, with the reason beside it', async () => {
    let taken = false;
    const calls = answering({
      'GET /api/v1/filters': () => (taken ? [{ name: 'late', filter: 'state=waiting' }] : []),
      'PUT /api/v1/filters/la%2Fte': () => {
        throw new Refusing(400, 'a name has no slash');
      },
      'PUT /api/v1/filters/late': () => {
        taken = true;
        return {};
      },
    });
    draw(<KeptFilters current="state=waiting" onChoose={() => {}} />);
    fireEvent.click(screen.getByRole('button', { name: 'Kept filters' }));
    fireEvent.click(await screen.findByText('Keep this one…'));
    const name = await screen.findByLabelText('Under which name');
    fireEvent.change(name, { target: { value: 'la/te' } });
    fireEvent.click(screen.getByRole('button', { name: 'Keep' }));
    await screen.findByText('a name has no slash');
    fireEvent.change(name, { target: { value: 'late' } });
    fireEvent.click(screen.getByRole('button', { name: 'Keep' }));
    await screen.findByText('Filter: late');
    await waitFor(() => expect(screen.queryByText('a name has no slash')).toBeNull());
    expect(calls.filter((one) => one.method === 'PUT').map((one) => one.body)).toEqual([
      { name: 'la/te', filter: 'state=waiting' },
      { name: 'late', filter: 'state=waiting' },
    ]);
  });

  test('one that cannot be forgotten is still there, and why is said', async () => {
    answering({
      'GET /api/v1/filters': () => [{ name: 'late', filter: 'state=waiting' }],
      'DELETE /api/v1/filters/late': () => {
        throw new Refusing(403, 'you may only look');
      },
    });
    draw(<KeptFilters current="state=waiting" onChoose={() => {}} />);
    fireEvent.click(await screen.findByRole('button', { name: 'Filter: late' }));
    fireEvent.click(await screen.findByText('Forget “late”'));
    await screen.findByText('you may only look');
    expect(screen.getByText('Filter: late')).toBeTruthy();
  });
});
