/** Where work is, as a part of a sentence: the API gives a host's name, or words with spaces. */
export function whereabouts(host: string): string {
  return host === '' || host.includes(' ') ? host : `on ${host}`;
}
