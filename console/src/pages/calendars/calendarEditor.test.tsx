// @vitest-environment happy-dom
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { afterEach, expect, test } from 'vitest';
import { answering, draw } from '../../test/draw';
import { CalendarEditorPage } from './CalendarEditorPage';

const LIVE = 'holiday-calendar: brannoch\ntitle: Holidays\nholidays: []\n';
const CHANGED = LIVE.replace('[]', '[{ day: 24 december, name: Yule Eve }]');
const KEPT = 'purser-unsaved holiday-calendar brannoch';
const ADDRESS = '/calendar-editor?kind=holiday&name=brannoch';

afterEach(() => sessionStorage.clear());

function answers() {
  const year = new Date().getFullYear();
  answering({
    'GET /api/v1/definitions/holiday-calendar/version': () => ({ text: LIVE }),
    [`POST /api/v1/calendars/brannoch/years/${year}`]: () => ({ year, days: [] }),
  });
}

test('what was not saved is there again, and one step back takes it away', async () => {
  sessionStorage.setItem(KEPT, CHANGED);
  answers();
  draw(<CalendarEditorPage />, ADDRESS);
  expect(await screen.findByText(/what you had not saved is here again/)).toBeTruthy();
  expect(screen.getByText(/with changes that are not saved/)).toBeTruthy();
  expect(sessionStorage.getItem(KEPT)).toBe(CHANGED);
  fireEvent.click(screen.getByText('Undo'));
  await waitFor(() => expect(sessionStorage.getItem(KEPT)).toBeNull());
  expect(screen.queryByText(/with changes that are not saved/)).toBeNull();
});

test('what is as it is live is kept nowhere', async () => {
  answers();
  draw(<CalendarEditorPage />, ADDRESS);
  expect(await screen.findByText(/As it is live/)).toBeTruthy();
  expect(sessionStorage.getItem(KEPT)).toBeNull();
});
