import createClient, { type Middleware } from 'openapi-fetch';
import type { components, paths } from './schema';

export type Schemas = components['schemas'];
export type Run = Schemas['RunView'];

/** An answer that is not what was asked for, in the service's own words. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

function csrfToken(): string {
  const found = document.cookie.split('; ').find((one) => one.startsWith('XSRF-TOKEN='));
  return found ? decodeURIComponent(found.slice('XSRF-TOKEN='.length)) : '';
}

async function refusal(response: Response): Promise<void> {
  if (!response.ok) {
    const said = await response
      .clone()
      .json()
      .catch(() => ({}));
    throw new Refusal(response.status, said.detail ?? `the service answered ${response.status}`);
  }
}

const guard: Middleware = {
  onRequest({ request }) {
    if (request.method !== 'GET') {
      request.headers.set('X-XSRF-TOKEN', csrfToken());
    }
    return request;
  },
  async onResponse({ response }) {
    await refusal(response);
    return response;
  },
};

export const api = createClient<paths>({ baseUrl: '/' });
api.use(guard);

/** Where the next page of a list is; empty on the last one, and for lists that one asks a part of. */
function nextPage(response?: Response): string {
  const link = response?.headers.get('Link') ?? '';
  return /^<([^>]*[?&]after=[^>]*)>; rel="next"$/.exec(link)?.[1] ?? '';
}

/**
 * The body of an answer; what is no answer has become a refusal before. A list that comes in pages
 * is read to its end.
 */
export async function body<T>(answer: Promise<{ data?: T; response?: Response }>): Promise<T> {
  const { data, response } = await answer;
  let next = nextPage(response);
  if (!next || !Array.isArray(data)) {
    return data as T;
  }
  const all: unknown[] = [...data];
  while (next) {
    const page = await fetch(new Request(new URL(next, location.href)));
    await refusal(page);
    all.push(...((await page.json()) as unknown[]));
    next = nextPage(page);
  }
  return all as T;
}
