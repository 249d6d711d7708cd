// @vitest-environment happy-dom
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, test } from 'vitest';
import type { Schemas } from '../../api/client';
import { answering, draw, Refusing } from '../../test/draw';
import { Handover } from './Handover';

type Note = Schemas['HandoverView'];

const left: Note = {
  id: 5,
  who: 'ida',
  written: '2027-03-04T05:00:00Z',
  text: 'The crane job needs a look.\nCall Per.',
  standing: '2 alerts open, 1 run held',
  takenBy: '',
  zone: 'Europe/Oslo',
};

describe('the note of a shift for the next', () => {
  const drawn = (notes: Note[], mayAct = true, refuse?: Refusing) => {
    const state = { notes };
    const calls = answering({
      'GET /api/v1/handovers': () => state.notes,
      'POST /api/v1/handovers': (call) => {
        if (refuse) {
          throw refuse;
        }
        const { text } = call.body as { text: string };
        state.notes = [{ ...left, id: 6, who: 'ola', text }];
        return state.notes[0];
      },
      'POST /api/v1/handovers/5/taken': () => {
        if (refuse) {
          throw refuse;
        }
        state.notes = [{ ...left, takenBy: 'ola', taken: '2027-03-04T05:10:00Z' }];
        return state.notes[0];
      },
    });
    const view = draw(<Handover mayAct={mayAct} />);
    return { calls, view };
  };

  test('is read with what stood open, and signed for', async () => {
    const { calls } = drawn([left]);
    expect((await screen.findByText(/The crane job needs a look/)).textContent).toBe(left.text);
    expect(
      screen.getByText(/^ida, .*: 2 alerts open, 1 run held\. Nobody has signed for it yet\.$/),
    ).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'I take over' }));
    expect(await screen.findByText(/Taken over by ola, /)).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'I take over' })).toBeNull();
    expect(calls.filter((call) => call.method === 'POST')).toHaveLength(1);
  });

  test('tells who was quicker', async () => {
    drawn([left], true, new Refusing(409, 'Per has signed for it already.'));
    fireEvent.click(await screen.findByRole('button', { name: 'I take over' }));
    expect((await screen.findByRole('alert')).textContent).toBe('Per has signed for it already.');
  });

  test('is written and shown', async () => {
    drawn([]);
    expect(await screen.findByText('No shift has written anything yet.')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Write a note' }));
    const sign = screen.getByRole('button', { name: 'Sign it' });
    expect(sign.hasAttribute('disabled')).toBe(true);
    fireEvent.change(screen.getByLabelText('What whoever comes next must know'), {
      target: { value: 'All quiet.' },
    });
    fireEvent.click(sign);
    expect(await screen.findByText('All quiet.')).toBeTruthy();
    await waitFor(() => expect(screen.queryByRole('button', { name: 'Sign it' })).toBeNull());
  });

  test('what could not be kept stays written', async () => {
    drawn([], true, new Refusing(503, 'The database is away.'));
    fireEvent.click(await screen.findByRole('button', { name: 'Write a note' }));
    const field = screen.getByLabelText('What whoever comes next must know');
    fireEvent.change(field, { target: { value: 'All quiet.' } });
    fireEvent.click(screen.getByRole('button', { name: 'Sign it' }));
    expect((await screen.findByRole('alert')).textContent).toBe('The database is away.');
    expect((field as HTMLTextAreaElement).value).toBe('All quiet.');
  });

  test('who may only look sees the note and no buttons, and nothing where there is none', async () => {
    const seen = drawn([left], false);
    await screen.findByText(/The crane job needs a look/);
    expect(screen.queryByRole('button')).toBeNull();
    seen.view.unmount();
    const { calls, view } = drawn([], false);
    await waitFor(() => expect(calls).toHaveLength(1));
    expect(view.container.textContent).toBe('');
  });
});
