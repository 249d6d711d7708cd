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

const guard: Middleware = {
  onRequest({ request }) {
    if (request.method !== 'GET') {
      request.headers.set('X-XSRF-TOKEN', csrfToken());
    }
    return request;
  },
  async onResponse({ response }) {
    if (!response.ok) {
      const body = await response
        .clone()
        .json()
        .catch(() => ({}));
      throw new Refusal(response.status, body.detail ?? `the service answered ${response.status}`);
    }
    return response;
  },
};

export const api = createClient<paths>({ baseUrl: '/' });
api.use(guard);

/** The body of an answer; what is no answer has become a refusal before. */
export async function body<T>(answer: Promise<{ data?: T }>): Promise<T> {
  return (await answer).data as T;
}
