import { ThemeProvider } from '@mui/material';
import { AdapterDayjs } from '@mui/x-date-pickers/AdapterDayjs';
import { LocalizationProvider } from '@mui/x-date-pickers/LocalizationProvider';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render } from '@testing-library/react';
import type { ReactNode } from 'react';
import { MemoryRouter } from 'react-router';
import { afterEach } from 'vitest';
import { makeTheme } from '../theme';

afterEach(cleanup);

/** Draws something as the console would, with theme, address and cache around it. */
export function draw(what: ReactNode, address = '/') {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const around = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>
      <ThemeProvider theme={makeTheme('light')}>
        <LocalizationProvider dateAdapter={AdapterDayjs}>
          <MemoryRouter initialEntries={[address]}>{children}</MemoryRouter>
        </LocalizationProvider>
      </ThemeProvider>
    </QueryClientProvider>
  );
  return render(what, { wrapper: around });
}

/** The texts of the cells of each row, without the row of titles. */
export function rows(container: HTMLElement): string[][] {
  return [...container.querySelectorAll('tbody tr')].map((row) =>
    [...row.querySelectorAll('td')].map((cell) => cell.textContent ?? ''),
  );
}

export interface Call {
  method: string;
  path: string;
  query: URLSearchParams;
  body: unknown;
}

/** What a played service throws to refuse. */
export class Refusing {
  constructor(
    readonly status: number,
    readonly detail: string,
  ) {}
}

/** What a played service answers with where more pages follow. */
export class Page {
  constructor(
    readonly rows: unknown[],
    readonly next: string,
  ) {}
}

let answers: Record<string, (call: Call) => unknown> = {};
let calls: Call[] = [];

// The client of the API keeps the fetch that it finds when it is loaded, which is after this.
globalThis.fetch = async (asked) => {
  const request = asked as Request;
  const url = new URL(request.url);
  const text = request.method === 'GET' ? '' : await request.text();
  const call: Call = {
    method: request.method,
    path: url.pathname,
    query: url.searchParams,
    body: text ? JSON.parse(text) : undefined,
  };
  calls.push(call);
  const answer = answers[`${call.method} ${call.path}`];
  const say = (found: unknown, status: number) => {
    const page = found instanceof Page;
    return new Response(JSON.stringify(page ? found.rows : found), {
      status,
      headers: {
        'Content-Type': 'application/json',
        ...(page ? { Link: `<${found.next}>; rel="next"` } : {}),
      },
    });
  };
  if (!answer) {
    return say({ detail: `nothing is at ${call.path}` }, 404);
  }
  try {
    return say(answer(call), 200);
  } catch (e) {
    if (e instanceof Refusing) {
      return say({ detail: e.detail }, e.status);
    }
    throw e;
  }
};

/** Plays a service that answers by method and path; what it is asked is in the list. */
export function answering(by: Record<string, (call: Call) => unknown>): Call[] {
  answers = by;
  calls = [];
  return calls;
}
