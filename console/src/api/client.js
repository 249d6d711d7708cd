import createClient from 'openapi-fetch';
/** An answer that is not what was asked for, in the service's own words. */
export class Refusal extends Error {
    status;
    constructor(status, message) {
        super(message);
        this.status = status;
    }
}
function csrfToken() {
    const found = document.cookie.split('; ').find((one) => one.startsWith('XSRF-TOKEN='));
    return found ? decodeURIComponent(found.slice('XSRF-TOKEN='.length)) : '';
}
const guard = {
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
export const api = createClient({ baseUrl: '/' });
api.use(guard);
/** The body of an answer; what is no answer has become a refusal before. */
export async function body(answer) {
    return (await answer).data;
}
