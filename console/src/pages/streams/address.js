/** The console's page of a stream; its slashes stay, so that the address can be read. */
export function streamAddress(stream) {
    return `/streams/${stream.split('/').map(encodeURIComponent).join('/')}`;
}
