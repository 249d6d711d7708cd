// @vitest-environment happy-dom
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { answering, draw, Refusing } from '../../test/draw';
import { SignInPage } from './SignInPage';

test('a wrong password is said, a one-time password asks for a new one, and then one is in', async () => {
  const refusals = [
    new Refusing(401, 'name or password is wrong'),
    new Refusing(403, 'this password is good once: choose a new one'),
    new Refusing(400, 'that is too short a password'),
  ];
  const calls = answering({
    'POST /api/v1/session': () => {
      const next = refusals.shift();
      if (next) {
        throw next;
      }
      return {};
    },
  });
  let signedIn = 0;
  draw(<SignInPage onSignedIn={() => signedIn++} />);
  const type = (label: RegExp, value: string) =>
    fireEvent.change(screen.getByLabelText(label), { target: { value } });
  const submit = () => fireEvent.click(screen.getByRole('button', { name: 'Sign in' }));
  type(/^Name/, 'ida');
  type(/^Password/, 'guess');
  submit();
  await screen.findByText('name or password is wrong');
  expect(screen.queryByLabelText(/^New password/)).toBeNull();
  submit();
  await screen.findByText(/good once/);
  type(/^New password/, 'short');
  submit();
  await screen.findByText('that is too short a password');
  type(/^New password/, 'long-enough-word');
  expect(signedIn).toBe(0);
  submit();
  await waitFor(() => expect(signedIn).toBe(1));
  expect(calls.at(-1)?.body).toMatchObject({ name: 'ida', newPassword: 'long-enough-word' });
});
